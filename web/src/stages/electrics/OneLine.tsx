import { Box } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { type KeyboardEvent, memo, useEffect, useRef } from 'react';

const partOf = (target: EventTarget) => (target instanceof Element ? target.closest('[data-part]') : null);

/** The one-line drawing as the core made it, in the colours of the sheet; a symbol is chosen by pointer, or by the arrow keys and Enter. */
export const OneLine = memo(function OneLine({
  svg,
  chosen,
  onChoose,
}: {
  svg: string;
  chosen: string | null;
  onChoose: (part: string) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const theme = useTheme();
  const colors = theme.vars?.palette.sheet ?? theme.palette.sheet;
  useEffect(() => {
    const parts = [...(box.current?.querySelectorAll('[data-part]') ?? [])];
    const entry = parts.find((p) => p.getAttribute('data-part') === chosen) ?? parts[0];
    for (const part of parts) {
      part.setAttribute('role', 'button');
      // One stop of the tabulator for the whole drawing; arrows go on from there.
      part.setAttribute('tabindex', part === entry ? '0' : '-1');
      part.setAttribute('aria-pressed', String(part.getAttribute('data-part') === chosen));
      part.setAttribute('aria-label', part.querySelector('title')?.textContent ?? '');
    }
  }, [svg, chosen]);
  const onKeyDown = (e: KeyboardEvent) => {
    const here = partOf(e.target);
    if (!here) return;
    if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      onChoose(here.getAttribute('data-part') ?? '');
    }
    const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key];
    if (step === undefined) return;
    e.preventDefault();
    const parts = [...(box.current?.querySelectorAll<SVGElement>('[data-part]') ?? [])];
    parts[(parts.indexOf(here as SVGElement) + step + parts.length) % parts.length]?.focus();
  };
  return (
    <Box
      ref={box}
      onClick={(e) => {
        const part = partOf(e.target);
        if (part) onChoose(part.getAttribute('data-part') ?? '');
      }}
      onKeyDown={onKeyDown}
      // The core escapes every word in it.
      dangerouslySetInnerHTML={{ __html: svg }}
      sx={{
        overflowX: 'auto',
        '& svg': { display: 'block', width: '100%', height: 'auto', minWidth: 900, fontFamily: 'inherit' },
        '& .paper': { fill: 'transparent' },
        '& .ink': { stroke: theme.vars?.palette.text.primary },
        '& .filled': { fill: theme.vars?.palette.background.default },
        '& .power': { stroke: colors.signal },
        '& .signal': { stroke: theme.vars?.palette.text.secondary },
        '& text': { fill: theme.vars?.palette.text.primary },
        '& text.fine': { fill: theme.vars?.palette.text.secondary },
        '& text.stop-word': { fill: theme.vars?.palette.error.main },
        '& .flag-stop': { fill: theme.vars?.palette.error.main },
        '& .flag-warn': { fill: theme.vars?.palette.warning.main },
        '& .part': { cursor: 'pointer', outline: 'none' },
        '& .part:hover .touch': { fill: theme.vars?.palette.action.hover },
        '& .part[aria-pressed="true"] .touch': { fill: theme.vars?.palette.action.selected },
        '& .part:focus-visible .touch': { stroke: theme.vars?.palette.primary.main, strokeWidth: 2 },
      }}
    />
  );
});
