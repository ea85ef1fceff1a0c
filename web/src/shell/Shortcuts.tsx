import {
  Dialog,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableRow,
} from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { useLocation } from 'wouter';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { meaning, setSingleKeys, singleKeys } from './shortcuts';
import { stages } from './StageRail';

const keys: [string, string][] = [
  [`1 … ${String(stages.length)}`, 'go to a stage'],
  ['[  ]', 'variant before, variant after'],
  ['c', 'copy this variant'],
  ['x', 'compare variants'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['u', 'next unit system'],
  ['?', 'this list'],
];

const editable = (target: EventTarget | null): target is HTMLElement =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

const textOf = (target: EventTarget | null) =>
  target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement ? target.value : '';

/** Listens for the shortcuts and lists them. */
export function Shortcuts({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) {
  const bench = useWorkbench();
  const [, navigate] = useLocation();
  const [singles, setSingles] = useState(singleKeys);
  /** What stood in the text that has the focus when it got it. */
  const before = useRef('');
  useEffect(() => {
    const remember = (e: FocusEvent) => {
      before.current = textOf(e.target);
    };
    window.addEventListener('focusin', remember);
    return () => {
      window.removeEventListener('focusin', remember);
    };
  }, []);
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const what = meaning({
        key: e.key,
        command: e.ctrlKey || e.metaKey,
        alt: e.altKey,
        shift: e.shiftKey,
        repeat: e.repeat,
        typing: editable(e.target),
        typed: textOf(e.target) !== before.current,
        dialog: document.querySelector('[role="dialog"], [role="menu"], [role="listbox"]') !== null,
        singles,
      });
      if (what === 'undo' || what === 'redo') {
        e.preventDefault();
        bench[what]();
        before.current = textOf(e.target);
      }
      if (what !== 'single') return;
      const stage = stages[Number(e.key) - 1];
      const at = bench.variants.findIndex((v) => v.id === bench.active.id);
      const step = (n: number) => {
        const next = bench.variants[at + n];
        const here = location.pathname.split('/')[3] ?? 'chain';
        if (next) navigate(`/c/${bench.id}/${here}/${next.label}`);
      };
      if (stage) navigate(`/c/${bench.id}/${stage.key}/${bench.active.label}`);
      else if (e.key === '[') step(-1);
      else if (e.key === ']') step(1);
      else if (e.key === 'c') bench.addVariant();
      else if (e.key === 'x') navigate(`/c/${bench.id}/compare/${bench.active.label}`);
      else if (e.key === 'u') {
        const order = ['metric', 'imperial', 'mix'] as const;
        bench.setUnits(order[(order.indexOf(bench.draft.units) + 1) % order.length] ?? 'metric');
      } else if (e.key === '?') onOpen(true);
    };
    window.addEventListener('keydown', listen);
    return () => {
      window.removeEventListener('keydown', listen);
    };
  }, [bench, navigate, onOpen, singles]);
  return (
    <Dialog
      open={open}
      onClose={() => {
        onOpen(false);
      }}
      aria-labelledby="keys-title"
    >
      <DialogTitle id="keys-title">Keys</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableBody>
            {keys.map(([key, does]) => (
              <TableRow key={key}>
                <TableCell className="figures">{key}</TableCell>
                <TableCell>{does}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
        <FormControlLabel
          sx={{ mt: 1.5 }}
          control={
            <Switch
              size="small"
              checked={singles}
              onChange={(e) => {
                setSingles(e.target.checked);
                setSingleKeys(e.target.checked);
              }}
            />
          }
          label="heed single keys; undo and redo always count"
        />
      </DialogContent>
    </Dialog>
  );
}
