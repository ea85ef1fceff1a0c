import { memo, useCallback } from 'react';
import { PlaceField } from '../../fields/PlaceField';
import { Box, Button, IconButton, Typography } from '@mui/material';
import type { LinkKind, PartKind } from '../../api/types';
import { DrivelineFields } from '../../fields/DrivelineFields';
import { Choice, Numbers, Row, Words } from '../../fields/Fields';
import { QuantityField } from '../../fields/QuantityField';
import { field } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { wiringKeys } from '../../parts/wiring';
import { Toggle } from '../../fields/Toggle';
import { useResults, useWorkbench, type Workbench } from '../../workbench/WorkbenchContext';
import { linkWords } from './PowerPath';
import { BenchDialog } from '../../parts/BenchDialog';
import { AddedStringsFields } from './AddedStrings';
import { Ratings } from '../../parts/Ratings';
import { summary } from '../../parts/summary';

const partOf: Partial<Record<LinkKind, PartKind>> = { pack: 'module', controller: 'controller', motor: 'motor' };

function DesignNumbers({
  group,
  at,
  keys,
  width = 170,
}: {
  group: string;
  at: string;
  keys: string[];
  width?: number;
}) {
  const { active } = useWorkbench();
  const record = `designs.${active.id}`;
  // Wiring, braking and the 12 V side keep their provenance with the design.
  const kept = at.startsWith('.') && at !== '.pack' ? { sourcesAt: record, prefix: `${at.slice(1)}.` } : {};
  return <Numbers group={group} at={`${record}${at}`} keys={keys} width={width} {...kept} />;
}

/** What the counts make of the cells; apart from the fields, so that an answer does not paint those. */
function PackFigures() {
  const { computed } = useResults();
  const pack = computed.estimate?.pack;
  return (
    pack && (
      <Typography variant="caption" color="text.secondary" className="figures" sx={{ width: '100%' }}>
        {pack.layout} · full {pack.full_v.toFixed(1)} V · nominal {pack.nominal_v.toFixed(1)} V · cut-off{' '}
        {pack.cutoff_v.toFixed(1)} V · {pack.capacity_ah.toFixed(0)} Ah · {pack.usable_kwh.toFixed(1)} of{' '}
        {pack.gross_kwh.toFixed(1)} kWh usable · {(pack.resistance_ohm * 1000).toFixed(1)} mΩ
      </Typography>
    )
  );
}

interface CountProps extends Pick<Workbench, 'editDesign'> {
  of: 'modules_in_series' | 'strings_in_parallel';
  value: number;
}

/** A count of the pack, typed or moved by one. */
const Count = memo(function Count({ of, value, editDesign }: CountProps) {
  const entry = field('Pack', of);
  return (
    <div style={{ display: 'flex', alignItems: 'flex-end' }}>
      <QuantityField
        of={entry}
        value={value}
        width={130}
        onChange={(v) => {
          if (v !== undefined) editDesign(`pack.${of}`, v);
        }}
      />
      {[-1, 1].map((step) => (
        <IconButton
          key={step}
          size="small"
          sx={stepLook}
          aria-label={`${step > 0 ? 'One more' : 'One fewer'}: ${entry.label.toLowerCase()}`}
          disabled={value + step < 1}
          onClick={() => {
            editDesign(`pack.${of}`, value + step);
          }}
        >
          {step > 0 ? '+' : '−'}
        </IconButton>
      ))}
    </div>
  );
});

const stepLook = { fontSize: 15, width: 28, height: 28 };

function PackSheet() {
  const { document, editDesign, active } = useWorkbench();
  const monitor = useCallback(
    (on: boolean) => {
      editDesign('pack.monitored', on);
    },
    [editDesign],
  );
  const pack = document.design.pack;
  if (!pack) return null;
  return (
    <Row>
      {(['modules_in_series', 'strings_in_parallel'] as const).map((key) => (
        <Count key={key} of={key} value={pack[key]} editDesign={editDesign} />
      ))}
      <Choice
        at={`designs.${active.id}.pack.window_approach`}
        label="Usable window"
        fallback="usual"
        width={170}
        options={[
          ['long_life', 'the middle, long life'],
          ['usual', 'normal'],
          ['all', 'all of it'],
        ]}
      />
      <DesignNumbers
        group="Pack"
        at=".pack"
        keys={['soc_min', 'soc_max', 'temperature_c', 'interconnect_resistance_ohm', 'box_mass_kg', 'box_price']}
        width={135}
      />
      <PlaceField at={`designs.${active.id}.layout.pack.along`} label="Along the vehicle" />
      <Toggle label="Cell monitoring fitted" on={pack.monitored ?? false} onChange={monitor} />
      <PackFigures />
    </Row>
  );
}

function DrivelineSheet() {
  const { document, draft, editDesign, active } = useWorkbench();
  const own = document.design.driveline != null;
  return (
    <Box>
      <Toggle
        label="changed for this variant"
        on={own}
        onChange={(on) => {
          editDesign('driveline', on ? draft.donor.driveline : undefined);
        }}
      />
      {own ? (
        <DrivelineFields at={`designs.${active.id}.driveline`} />
      ) : (
        <Typography color="text.secondary">
          The donor&rsquo;s gearbox and final drive are kept. Switch it on to lock a gear, change the final drive or
          drive through one fixed ratio.
        </Typography>
      )}
    </Box>
  );
}

/** Which link it is, the part there in one line, and the way to another. */
const Heading = memo(function Heading({ kind, record, onClose, onExchange }: SheetProps & { record: string | null }) {
  const part = partOf[kind];
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, mb: 1.5 }}>
      <Typography variant="h2">{linkWords[kind]}</Typography>
      <Typography variant="body2" color="text.secondary" noWrap sx={{ flex: 1 }}>
        {record}
      </Typography>
      {part && (
        <Button
          variant="outlined"
          onClick={() => {
            onExchange(part);
          }}
        >
          {record === null ? 'Choose' : 'Change'}
        </Button>
      )}
      <IconButton size="small" aria-label="Close details" onClick={onClose} sx={{ fontSize: 14, width: 28 }}>
        ✕
      </IconButton>
    </Box>
  );
});

interface SheetProps {
  kind: LinkKind;
  onClose: () => void;
  onExchange: (part: PartKind) => void;
}

/** What can be changed at one link, below the drawing. */
export const LinkSheet = memo(function LinkSheet({ kind, onClose, onExchange }: SheetProps) {
  const { document, active } = useWorkbench();
  const system = useUnits();
  const design = document.design;
  const part = partOf[kind];
  const record =
    kind === 'pack' && design.pack
      ? ({ ...design.pack.module, part: 'module' } as const)
      : kind === 'motor' && design.motor
        ? ({ ...design.motor, part: 'motor' } as const)
        : kind === 'controller' && design.controller
          ? ({ ...design.controller, part: 'controller' } as const)
          : null;
  return (
    <Box
      component="section"
      id="link-sheet"
      aria-label={`${linkWords[kind]}, details`}
      sx={{ borderTop: '2px solid', borderColor: 'text.primary', bgcolor: 'background.paper', p: 2, mb: 2 }}
    >
      <Heading
        kind={kind}
        record={record && `${record.name}: ${summary(record, system)}`}
        onClose={onClose}
        onExchange={onExchange}
      />
      {kind === 'pack' && <PackSheet />}
      {kind === 'wiring' && (
        <Row>
          <DesignNumbers group="Wiring" at=".wiring" keys={[...wiringKeys(document.design), 'resistance_ohm']} />
        </Row>
      )}
      {kind === 'controller' && (
        <Row>
          <DesignNumbers group="Design" at="" keys={['controller_count']} width={150} />
          <Choice
            at={`designs.${active.id}.regeneration.approach`}
            label="Regenerative braking"
            fallback="brake"
            width={170}
            options={[
              ['none', 'none, coast freely'],
              ['throttle', 'on lift-off'],
              ['brake', 'with the brake pedal'],
              ['dial', 'by a dial'],
            ]}
          />
          <DesignNumbers
            group="Regeneration"
            at=".regeneration"
            keys={['share', 'power_cap_w', 'fade_from_kmh', 'fade_to_kmh']}
            width={150}
          />
          <DesignNumbers group="LowVoltage" at=".low_voltage" keys={['load_w', 'converter_efficiency']} width={150} />
        </Row>
      )}
      {kind === 'motor' && (
        <Row>
          <DesignNumbers group="Design" at="" keys={['motor_count']} width={130} />
          <Choice
            at={`designs.${active.id}.motor_place`}
            label="They sit"
            fallback="shaft"
            width={190}
            options={[
              ['shaft', 'ahead of the driveline'],
              ['wheels', 'at the driven wheels'],
              ['each_axle', 'one on each axle'],
              ['every_wheel', 'one at every wheel'],
            ]}
          />
          <PlaceField at={`designs.${active.id}.layout.motor.along`} label="Along the vehicle" />
          <BenchDialog />
          <Words at={`designs.${active.id}.notes`} label="Remark on this variant" width={360} />
        </Row>
      )}
      {record && part && <Ratings part={part} />}
      {kind === 'pack' && <AddedStringsFields />}
      {kind === 'driveline' && <DrivelineSheet />}
      {kind === 'tyres' && (
        <Row>
          <Numbers group="Donor" at="donor" keys={['adhesion', 'rolling_coefficient']} width={190} />
          <DesignNumbers group="Design" at="" keys={['front_axle_share']} width={220} />
        </Row>
      )}
    </Box>
  );
});
