import { Box, Button, Typography } from '@mui/material';
import { memo, useCallback, useState } from 'react';
import type { Design } from '../../api/types';
import { Choice, Numbers, Row } from '../../fields/Fields';
import { QuantityField } from '../../fields/QuantityField';
import { field } from '../../units/units';
import { useWorkbench, type Workbench } from '../../workbench/WorkbenchContext';

/** Choices that shape the circuits: how brakes are helped, what feeds 12 V, in what cables are bought. */
export function Choices({ at }: { at: string }) {
  const { edit } = useWorkbench();
  const of = (key: string) => `${at}.electrics.${key}`;
  const steer = useCallback(
    (value: string) => {
      edit(`${at}.electrics.electric_steering`, value === 'true' ? true : undefined);
    },
    [at, edit],
  );
  const point = useCallback(
    (value: string) => {
      edit(`${at}.electrics.shaft_end`, value === '' ? undefined : value);
    },
    [at, edit],
  );
  return (
    <Box sx={{ mb: 2 }}>
      <Row>
        <Choice
          at={of('brakes')}
          label="Brakes are helped"
          fallback="none"
          width={250}
          options={[
            ['none', 'not, or by nothing the engine drove'],
            ['lost', 'by the engine’s vacuum, now gone'],
            ['vacuum', 'by vacuum, from a pump'],
            ['electric', 'by an electric booster'],
          ]}
        />
        <Choice
          at={of('supply')}
          label="12 V comes from"
          fallback="converter"
          width={185}
          options={[
            ['converter', 'a converter and a battery'],
            ['battery', 'a battery with its own charger'],
          ]}
        />
        <Choice
          at={of('electric_steering')}
          label="Steering is helped"
          fallback="false"
          width={135}
          options={[
            ['false', 'not by electricity'],
            ['true', 'by electricity'],
          ]}
          onChange={steer}
        />
        <Choice
          at={of('shaft_end')}
          label="Motor’s shaft end points"
          fallback=""
          width={150}
          options={[
            ['', 'not said'],
            ['left', 'to the left'],
            ['right', 'to the right'],
          ]}
          onChange={point}
        />
        <Choice
          at={of('series')}
          label="Cables are bought in"
          fallback="metric"
          width={140}
          options={[
            ['metric', 'mm², IEC 60228'],
            ['awg', 'AWG, ASTM B258'],
          ]}
        />
        <Choice
          at={of('code')}
          label="Colours of wires"
          fallback="iec"
          width={170}
          options={[
            ['iec', 'IEC 60445'],
            ['north_america', 'North American practice'],
          ]}
        />
      </Row>
    </Box>
  );
}

const readings = ['pack_v', 'side_v', 'side_with_resistor_v', 'resistor_kohm'];

/** Insulation as it was measured with a voltmeter and a resistor; it counts once all four readings are there. */
export function InsulationTest({ at }: { at: string }) {
  const { document, edit } = useWorkbench();
  return <Readings at={at} kept={document.design.electrics?.insulation_test} edit={edit} />;
}

type Kept = NonNullable<Design['electrics']>['insulation_test'];

const Readings = memo(function Readings({
  at,
  kept,
  edit,
}: Pick<Workbench, 'edit'> & { at: string; kept: Kept | undefined }) {
  const place = `${at}.electrics.insulation_test`;
  const [typed, setTyped] = useState<Record<string, number | undefined>>({});
  return (
    <Box sx={{ mt: 1.5 }}>
      <Typography color="text.secondary" variant="body2" sx={{ mb: 1 }}>
        Measured with a voltmeter and a resistor: both poles against the chassis, then the higher one with the resistor
        across it. The circuit is live: rated gloves, one hand, two people.
      </Typography>
      <Row>
        {kept == null ? (
          readings.map((key) => (
            <QuantityField
              key={key}
              of={field('InsulationTest', key)}
              value={typed[key]}
              currency=""
              width={190}
              onChange={(value) => {
                const next = { ...typed, [key]: value };
                setTyped(next);
                if (readings.every((r) => next[r] !== undefined)) {
                  edit(place, next);
                  setTyped({});
                }
              }}
            />
          ))
        ) : (
          <>
            <Numbers group="InsulationTest" at={place} keys={readings} width={190} />
            <Button
              onClick={() => {
                edit(place, undefined);
              }}
            >
              Leave it out
            </Button>
          </>
        )}
      </Row>
    </Box>
  );
});
