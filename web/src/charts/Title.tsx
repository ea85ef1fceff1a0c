import { Typography } from '@mui/material';

/** Heading of a drawing with a quiet remark beside it. */
export function Title({ word, note, level = 'h2' }: { word: string; note: string; level?: 'h2' | 'h3' }) {
  return (
    <>
      <Typography component="span" variant={level}>
        {word}
      </Typography>{' '}
      <Typography component="span" variant="caption" color="text.secondary">
        {note}
      </Typography>
    </>
  );
}
