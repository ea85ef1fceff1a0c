import { Dialog, DialogContent, DialogTitle, Table, TableBody, TableCell, TableRow } from '@mui/material';
import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { stages } from './StageRail';

const keys: [string, string][] = [
  ['1 … 5', 'go to a stage'],
  ['[  ]', 'variant before, variant after'],
  ['c', 'copy this variant'],
  ['x', 'compare variants'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['u', 'next unit system'],
  ['?', 'this list'],
];

const editable = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** Listens for the shortcuts and lists them. Letters do nothing while something is being typed. */
export function Shortcuts({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) {
  const bench = useWorkbench();
  const navigate = useNavigate();
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const command = e.ctrlKey || e.metaKey;
      if (command && e.key.toLowerCase() === 'z') {
        e.preventDefault();
        if (e.shiftKey) bench.redo();
        else bench.undo();
        return;
      }
      if (command || e.altKey || editable(e.target) || document.querySelector('[role="dialog"]')) return;
      const stage = stages[Number(e.key) - 1];
      const at = bench.variants.findIndex((v) => v.id === bench.active.id);
      const step = (n: number) => {
        const next = bench.variants[at + n];
        const here = location.pathname.split('/')[3] ?? 'chain';
        if (next) void navigate(`/c/${bench.id}/${here}/${next.label}`);
      };
      if (stage) void navigate(`/c/${bench.id}/${stage.key}/${bench.active.label}`);
      else if (e.key === '[') step(-1);
      else if (e.key === ']') step(1);
      else if (e.key === 'c') bench.addVariant();
      else if (e.key === 'x') void navigate(`/c/${bench.id}/compare/${bench.active.label}`);
      else if (e.key === 'u') {
        const order = ['metric', 'imperial', 'mix'] as const;
        bench.setUnits(order[(order.indexOf(bench.draft.units) + 1) % order.length] ?? 'metric');
      } else if (e.key === '?') onOpen(true);
    };
    window.addEventListener('keydown', listen);
    return () => {
      window.removeEventListener('keydown', listen);
    };
  }, [bench, navigate, onOpen]);
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
      </DialogContent>
    </Dialog>
  );
}
