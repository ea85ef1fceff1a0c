import { Button } from '@mui/material';
import { memo, useCallback, useState } from 'react';
import type { ElectricsSheet, Slot } from '../../api/types';
import { download } from '../../common/download';
import { Section } from '../../fields/Fields';
import { OneLine } from './OneLine';
import { PartPanel } from './PartPanel';
import { Choices } from './Settings';

interface Props {
  /** The one-line drawing; it may be of the sheet before, for a frame. */
  svg: string;
  sheet: ElectricsSheet;
  at: string;
  /** Name of the file it is kept under. */
  name: string;
  /** Opens the records for a place. */
  onOpen: (slot: Slot) => void;
}

/** The one-line drawing, what stands behind the symbol chosen, and the choices that shape the circuits. */
export function Drawing({ svg, sheet, at, name, onOpen }: Props) {
  const [chosen, setChosen] = useState<string | null>(null);
  const onSymbol = useCallback((id: string) => {
    setChosen((now) => (id === now ? null : id));
  }, []);
  const known = sheet.circuit.parts.some((p) => p.id === chosen);
  return (
    <Shown
      svg={svg}
      sheet={known ? sheet : null}
      chosen={chosen}
      at={at}
      name={name}
      onSymbol={onSymbol}
      onOpen={onOpen}
    />
  );
}

interface ShownProps extends Omit<Props, 'sheet'> {
  /** What the chosen symbol is told from; none while none is. */
  sheet: ElectricsSheet | null;
  chosen: string | null;
  onSymbol: (id: string) => void;
}

/** Painted anew only where the drawing or the symbol chosen has changed. */
const Shown = memo(function Shown({ svg, sheet, chosen, at, name, onSymbol, onOpen }: ShownProps) {
  const part = sheet?.circuit.parts.find((p) => p.id === chosen);
  return (
    <Section
      title="One-line drawing"
      note="a symbol opens what sized it"
      action={
        <Button
          onClick={() => {
            download(`${name}-one-line.svg`, 'image/svg+xml', svg);
          }}
        >
          as SVG
        </Button>
      }
    >
      <OneLine svg={svg} chosen={chosen} onChoose={onSymbol} />
      {sheet && part && (
        <PartPanel
          part={part}
          sheet={sheet}
          onExchange={
            part.slot === ''
              ? undefined
              : () => {
                  onOpen(part.slot as Slot);
                }
          }
          onClose={() => {
            onSymbol(part.id);
          }}
        />
      )}
      <Choices at={at} />
    </Section>
  );
});
