import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { passesQuery } from '../../api/queries';
import type { PassResult, TimedPasses } from '../../api/types';
import { Numbers, Row, Section } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { Said } from '../../units/Said';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { freshId } from '../../workbench/ids';
import { useWorkbench } from '../../workbench/WorkbenchContext';

const at = 'donor.evidence.passes';

/** Passes by the clock with the engine still in, beside what the conversion will take. */
export function Passes() {
  const { draft, document, edit } = useWorkbench();
  const passes: TimedPasses[] = draft.donor.evidence?.passes ?? [];
  const query = useQuery({ ...passesQuery(document), enabled: passes.length > 0 });
  return (
    <Section
      title="By the clock"
      note="three runs of the same pass, same place, warm; before anything comes out"
      action={
        <Button
          disabled={passes.length >= 12}
          onClick={() => {
            edit(at, [...passes, { to_kmh: 50 }]);
          }}
        >
          Add a pass
        </Button>
      }
    >
      {passes.length === 0 && (
        <Typography color="text.secondary">
          How quick it was is what people will hold the conversion against. On a closed road, with a passenger at the
          clock.
        </Typography>
      )}
      {passes.map((p, i) => (
        <OnePass
          key={String(i)}
          passes={p}
          index={i}
          result={query.data?.[i]}
          fresh={!query.isPlaceholderData && !query.isError}
        />
      ))}
    </Section>
  );
}

function OnePass({
  passes,
  index,
  result,
  fresh,
}: {
  passes: TimedPasses;
  index: number;
  result: PassResult | undefined;
  fresh: boolean;
}) {
  const { edit } = useWorkbench();
  const own = `${at}.${String(index)}`;
  const runs = passes.runs ?? [];
  return (
    <Box sx={{ py: 1 }} data-testid={`pass-${String(index)}`}>
      <Row>
        <Numbers group="TimedPasses" at={own} keys={['from_kmh', 'to_kmh', 'aboard_kg']} width={100} />
        {runs.map((_, j) => (
          <Box key={String(j)} sx={{ display: 'flex' }}>
            <Numbers group="TimedRun" at={`${own}.runs.${String(j)}`} keys={['seconds']} width={80} />
            <RemoveButton
              what={`run ${String(j + 1)}`}
              onClick={() => {
                edit(`${own}.runs.${String(j)}`, undefined);
              }}
            />
          </Box>
        ))}
        <Button
          disabled={runs.length >= 30}
          onClick={() => {
            edit(`${own}.runs`, [...runs, { seconds: runs.at(-1)?.seconds ?? 10 }]);
          }}
        >
          Add a run
        </Button>
        <RemoveButton
          what="the pass"
          onClick={() => {
            edit(own, undefined);
          }}
        />
      </Row>
      {result && <Told result={result} passes={passes} fresh={fresh} />}
    </Box>
  );
}

function Told({ result: r, passes, fresh }: { result: PassResult; passes: TimedPasses; fresh: boolean }) {
  const { draft, edit, say } = useWorkbench();
  const system = useUnits();
  const goals = draft.brief.goals ?? [];
  const range = { from_kmh: passes.from_kmh ?? 0, to_kmh: passes.to_kmh };
  const asked = goals.some(
    (g) =>
      g.measure.kind === 'acceleration' && g.measure.from_kmh === range.from_kmh && g.measure.to_kmh === range.to_kmh,
  );
  const mean = r.mean_s;
  return (
    <Box role="status">
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        {mean != null && (
          <Typography>
            ● <b>{showText(mean, 's', system, 3)}</b>
            {r.within_s != null && <> ± {showText(r.within_s, 's', system, 2)}</>} as it was;{' '}
            {r.converted_s == null ? (
              'the conversion does not get there, or has no chain yet'
            ) : (
              <>
                the conversion takes <b>{showText(r.converted_s, 's', system, 3)}</b>,{' '}
                {r.converted_s <= mean ? 'no slower' : 'slower'}
              </>
            )}
            .
          </Typography>
        )}
        {mean != null && !asked && (
          <Button
            disabled={!fresh}
            onClick={() => {
              const measure = { kind: 'acceleration' as const, ...range, at_most_s: Number(mean.toFixed(1)) };
              const id = freshId(
                'as-it-was',
                goals.map((g) => g.id),
              );
              edit('brief.goals', [...goals, { id, name: 'As quick as it was', level: 'wanted', weight: 1, measure }]);
              say('A goal of the brief now; undo takes it back.');
            }}
          >
            Ask for no less
          </Button>
        )}
      </Box>
      {r.doubts.map((d) => (
        <Typography key={JSON.stringify(d)} variant="body2" sx={{ color: 'warning.main' }}>
          ▲ <Said of={d} />
        </Typography>
      ))}
    </Box>
  );
}
