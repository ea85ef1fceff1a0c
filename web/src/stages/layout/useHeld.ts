import { type KeyboardEvent, type PointerEvent, type RefObject, useRef } from 'react';
import type { BlockView } from '../../api/types';
import { useUnits } from '../../units/UnitsContext';
import { type Move, nudge } from './account';

export type View = 'side' | 'plan';

/** Shorter pulls are a click that trembles, m. */
const TREMBLE_M = 0.02;

const moved = (view: View, path: string, dx: number, dy: number): Move => ({
  path,
  along: dx,
  right: view === 'plan' ? -dy : 0,
  up: view === 'side' ? -dy : 0,
});

/** What the drawing and its blocks do with pointer and keys; `perMetre` are the drawing's units to a metre. */
export function useHeld(
  svg: RefObject<SVGSVGElement | null>,
  perMetre: number,
  onChoose: (path: string) => void,
  onMove: (move: Move | null) => void,
  onDrop: (move: Move) => void,
  /** Where a move ends that comes near an edge; not asked while Alt is held. */
  snap: (move: Move) => Move,
) {
  const system = useUnits();
  const held = useRef<{ path: string; view: View; x: number; y: number; moving: boolean } | null>(null);
  const metres = (e: PointerEvent) => {
    const to = svg.current?.getScreenCTM();
    if (!to) return { x: 0, y: 0 };
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(to.inverse());
    return { x: p.x / perMetre, y: p.y / perMetre };
  };
  const pulled = (e: PointerEvent) => {
    const h = held.current;
    if (!h) return null;
    const p = metres(e);
    const to = moved(h.view, h.path, p.x - h.x, p.y - h.y);
    h.moving ||= Math.hypot(to.along, to.right, to.up) > TREMBLE_M;
    if (!h.moving) return null;
    return e.altKey ? to : snap(to);
  };
  const letGo = () => {
    held.current = null;
    onMove(null);
  };
  // The pointer is caught by the drawing: a block that is chosen comes to the front, and an element that moves lets go of it.
  const sheet = {
    onPointerMove: (e: PointerEvent) => {
      const to = pulled(e);
      if (to) onMove(to);
    },
    onPointerUp: (e: PointerEvent) => {
      const to = pulled(e);
      if (held.current) letGo();
      if (to) onDrop(to);
    },
    onPointerCancel: letGo,
  };
  const block = (view: View, { path }: BlockView) => ({
    onPointerDown: (e: PointerEvent) => {
      if (e.button !== 0) return;
      svg.current?.setPointerCapture(e.pointerId);
      held.current = { path, view, ...metres(e), moving: false };
      onChoose(path);
    },
    onKeyDown: (e: KeyboardEvent) => {
      if (e.key === 'Escape' && held.current) {
        e.preventDefault();
        letGo();
      } else if (e.key === 'Enter' || e.key === ' ') {
        e.preventDefault();
        onChoose(path);
      }
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
      if (!way || e.ctrlKey || e.metaKey || e.altKey) return;
      e.preventDefault();
      const step = (e.shiftKey ? 10 : 1) * nudge(system);
      onDrop(moved(view, path, (way[0] ?? 0) * step, (way[1] ?? 0) * step));
    },
  });
  return { sheet, block };
}
