import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { mechanicsQuery } from '../../api/queries';
import type { ElectricsLine, Mechanics, MechanicsSheet } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { Choice, Numbers, Row, Section } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { GroupLines } from '../../parts/GroupLines';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { ChainDrawing } from './ChainDrawing';
import { MotorPlaces } from './MotorPlaces';
import { FreshOffer } from '../../parts/TakeIt';
import { Mounts } from './Mounts';
import { Plate } from './Plate';
import { WithDrawing } from './WithDrawing';
import { boltFields, chainNumbers } from './words';

/** What turns and what holds: chain, shaft, key, coupler, and the bolts of every mount. */
export function Mechanical() {
  const { document } = useWorkbench();
  const { computed } = useResults();
  const ready = computed.estimate !== undefined;
  const query = useQuery({ ...mechanicsQuery(document), enabled: ready });
  const [kept, setKept] = useState(query.data);
  if (query.data && query.data !== kept) setKept(query.data);
  const sheet = query.data ?? kept;
  if (!ready && !sheet) return null;
  const fresh = !query.isPlaceholderData && !query.isError;
  return (
    <FreshOffer value={fresh}>
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {query.isPending && !sheet && <Loading what="the mechanical sheet" />}
      {sheet && <Turning sheet={sheet} />}
      {sheet && <MotorPlaces rows={sheet.motor_places} />}
      {sheet && <Mounts sheet={sheet} />}
    </FreshOffer>
  );
}

/** Chain, shaft and coupler: each is added when somebody wants to know. */
function Turning({ sheet }: { sheet: MechanicsSheet }) {
  const { document, active, edit, editAll, say } = useWorkbench();
  const system = useUnits();
  const mechanics: Mechanics = document.design.mechanics ?? {};
  const at = `designs.${active.id}.mechanics`;
  const take = (l: ElectricsLine) => {
    editAll(l.takes.map((t): [string, unknown] => [`designs.${active.id}.${t.path}`, t.value]));
    say('Taken into the design; undo takes it back.');
  };
  const offers: [keyof Mechanics, string, unknown, boolean][] = [
    ['chain', 'Chain', { number: '50', front_teeth: 17, centre_mm: 500 }, sheet.has_chain_stage],
    ['belt', 'Toothed belt', { pitch_mm: 8, front_teeth: 28, centre_mm: 500 }, sheet.has_belt_stage],
    ['shaft', 'Shaft and key', { diameter_mm: 28, key_length_mm: 40 }, true],
    ['coupler', 'Coupler', { bolts: 6, radius_mm: 40 }, true],
    [
      'plate',
      'Adapter plate',
      { thickness_mm: 15, bore_mm: 80, motor: { holes: 4, radius_mm: 65, hole_mm: 10.5 } },
      true,
    ],
  ];
  const lines = (id: string) => {
    const group = sheet.groups.find((g) => g.id === id);
    return (
      group && (
        <>
          <GroupLines group={group} onTake={take} />
          <Typography variant="caption" component="p" sx={{ color: 'warning.main', mt: 0.5 }}>
            ▲ {group.caution}
          </Typography>
        </>
      )
    );
  };
  const remove = (key: keyof Mechanics, what: string) => (
    <RemoveButton
      what={what}
      onClick={() => {
        edit(`${at}.${key}`, undefined);
      }}
    />
  );
  const missing = (what: string) => (
    <Typography sx={{ color: 'warning.main' }}>
      ▲ No stage of the gearing is {what}: add one on the Chain or Donor stage.
    </Typography>
  );
  return (
    <Section
      title="Chain, shaft and coupler"
      note={`at the greatest torque the motors give, ${showText(sheet.motor_nm, 'N·m', system, 3)}`}
      action={
        <Box>
          {offers
            .filter(([key, , , possible]) => possible && mechanics[key] == null)
            .map(([key, word, value]) => (
              <Button
                key={key}
                onClick={() => {
                  edit(`${at}.${key}`, value);
                }}
              >
                + {word}
              </Button>
            ))}
        </Box>
      }
    >
      {mechanics.chain && (
        <WithDrawing drawing={sheet.picture && !sheet.picture.belt && <ChainDrawing picture={sheet.picture} />}>
          <Row>
            <Choice at={`${at}.chain.number`} label="Chain" width={120} options={chainNumbers} />
            <Numbers
              group="ChainDrive"
              at={`${at}.chain`}
              keys={['front_teeth', 'centre_mm', 'strands', 'breaks_kn']}
              width={140}
            />
            {remove('chain', 'the chain')}
          </Row>
          {!sheet.has_chain_stage && missing('a chain')}
          {lines('chain')}
        </WithDrawing>
      )}
      {mechanics.belt && (
        <WithDrawing drawing={sheet.picture?.belt && <ChainDrawing picture={sheet.picture} />}>
          <Row>
            <Numbers
              group="BeltDrive"
              at={`${at}.belt`}
              keys={['pitch_mm', 'front_teeth', 'centre_mm', 'bears_n']}
              width={132}
            />
            {remove('belt', 'the belt')}
          </Row>
          {!sheet.has_belt_stage && missing('a belt')}
          {lines('belt')}
        </WithDrawing>
      )}
      {(mechanics.shaft != null || mechanics.coupler != null) && (
        <Box sx={{ mt: 2 }}>
          <Row>
            {mechanics.shaft && (
              <>
                <Numbers
                  group="Shaft"
                  at={`${at}.shaft`}
                  keys={['diameter_mm', 'key_length_mm', 'yield_n_mm2']}
                  width={150}
                />
                {remove('shaft', 'the shaft')}
              </>
            )}
            {mechanics.coupler && (
              <>
                <Numbers group="BoltCircle" at={`${at}.coupler`} keys={['bolts']} width={140} />
                <Choice
                  at={`${at}.coupler.thread`}
                  label="Thread"
                  width={80}
                  fallback="M8"
                  options={boltFields.threads}
                />
                <Choice
                  at={`${at}.coupler.class`}
                  label="Class"
                  width={80}
                  fallback="8.8"
                  options={boltFields.classes}
                />
                <Numbers group="BoltCircle" at={`${at}.coupler`} keys={['radius_mm', 'friction']} width={140} />
                {remove('coupler', 'the coupler')}
              </>
            )}
          </Row>
          {lines('shaft')}
        </Box>
      )}
      {mechanics.plate && <Plate plate={mechanics.plate} picture={sheet.plate} lines={lines('plate')} />}
      {offers.every(([key]) => mechanics[key] == null) && (
        <Typography color="text.secondary">
          Sprockets, links, keys and bolt circles are checked against that torque once they are named
          {sheet.has_chain_stage || sheet.has_belt_stage ? '' : '; a chain or belt once a stage of the gearing is one'}.
        </Typography>
      )}
    </Section>
  );
}
