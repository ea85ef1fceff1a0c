import { Button } from '@mui/material';
import { useRef } from 'react';
import { textOf } from './text';

/** Largest file taken, bytes; the service accepts as much. */
const largest = 8 * 1024 * 1024;

/** A button that asks for a file and hands its text on; a file too large is said so instead. */
export function FileButton({
  label,
  accept,
  onText,
  onRefused,
}: {
  label: string;
  accept: string;
  onText: (text: string, name: string) => void;
  onRefused: (message: string) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>{label}</Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        aria-label={label}
        hidden
        onChange={(e) => {
          const file = e.target.files?.[0];
          // The same file may be chosen again after it was mended.
          e.target.value = '';
          if (!file) return;
          if (file.size > largest) {
            onRefused(`${file.name} has ${(file.size / 1024 / 1024).toFixed(1)} MB; up to 8 MB are accepted.`);
            return;
          }
          void file.arrayBuffer().then((bytes) => {
            onText(textOf(bytes), file.name);
          });
        }}
      />
    </>
  );
}
