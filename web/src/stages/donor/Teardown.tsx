import { Box, Button, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { api, asText, reach, refusalLines, unwrap } from '../../api/client';
import { teardownQuery } from '../../api/queries';
import type { Donor, TeardownStep } from '../../api/types';
import { download, fileName } from '../../common/download';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { FileButton } from '../../fields/FileButton';
import { PlaceField } from '../../fields/PlaceField';
import { RemoveButton } from '../../fields/RemoveButton';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';

type Item = NonNullable<Donor['removed']>[number];

const fates: [NonNullable<Item['fate']>, string][] = [
  ['sold', 'sold'],
  ['for_sale', 'for sale'],
  ['kept', 'kept'],
  ['scrapped', 'scrapped'],
];

/** What comes out of the donor: what to see to first, and the ledger of masses and money. */
export function Teardown() {
  const { draft, document, edit, say } = useWorkbench();
  const { computed } = useResults();
  const removed: Item[] = draft.donor.removed ?? [];
  const query = useQuery(teardownQuery(document));
  const read = useMutation({
    mutationFn: (text: string) => reach(async () => unwrap(await api.POST('/api/v1/ledger', asText(text)))),
    onSuccess: (items) => {
      edit('donor.removed', items);
      say(`${String(items.length)} items read in place of ${String(removed.length)}; undo brings those back.`);
    },
  });
  const steps = query.data?.steps ?? [];
  const cost = computed.estimate?.cost;
  const money = (x: number) => `${figures(x, 5)} ${draft.brief.currency ?? ''}`;
  return (
    <Section
      title="Taken out"
      note="each with its mass, its place and what became of it"
      action={
        <Box>
          <FileButton
            label="Ledger from CSV"
            accept=".csv,.txt"
            onRefused={say}
            onText={(text) => {
              read.mutate(text);
            }}
          />
          <Button
            disabled={!query.data || removed.length === 0}
            onClick={() => {
              if (query.data) download(`${fileName(draft.name)}-ledger.csv`, 'text/csv', query.data.csv);
            }}
          >
            as CSV
          </Button>
          <Button
            onClick={() => {
              edit('donor.removed', [...removed, { name: 'Item', mass_kg: 10, sale_price: 0 }]);
            }}
          >
            Add an item
          </Button>
        </Box>
      }
    >
      {read.isError && (
        <Box role="alert" sx={{ color: 'error.main' }}>
          {refusalLines(read.error).map((line) => (
            <Typography key={line}>{line}</Typography>
          ))}
        </Box>
      )}
      {removed.length === 0 && (
        <Typography color="text.secondary">
          Nothing yet: engine, tank, exhaust and radiator each give mass and money back.
        </Typography>
      )}
      {removed.map((r, i) => {
        const at = `donor.removed.${String(i)}`;
        const fate = r.fate ?? 'sold';
        return (
          <Box key={String(i)} sx={{ py: 0.75 }}>
            <Row>
              <Words at={`${at}.name`} label="Item" width={180} />
              <Numbers group="RemovedItem" at={at} keys={['mass_kg']} width={90} />
              <PlaceField at={`${at}.at.along`} label="It was" width={140} />
              <Choice
                at={`${at}.fate`}
                label="It is"
                width={100}
                fallback="sold"
                options={fates}
                onChange={(value) => {
                  edit(`${at}.fate`, value === 'sold' ? undefined : value);
                }}
              />
              {(fate === 'sold' || fate === 'for_sale') && (
                <>
                  <Numbers group="RemovedItem" at={at} keys={['sale_price']} width={110} />
                  <Words at={`${at}.sold_to`} label="To" placeholder="a restorer" width={120} />
                </>
              )}
              <RemoveButton
                what={r.name}
                onClick={() => {
                  edit(at, undefined);
                }}
              />
            </Row>
          </Box>
        );
      })}
      {cost && removed.length > 0 && (
        <Typography sx={{ mt: 1 }} role="status">
          Sold for <b>{money(cost.sold)}</b>
          {cost.hoped > 0 && <>; {money(cost.hoped)} hoped for, counted in nothing until it is in hand</>}
          {cost.donor_net != null && (
            <>
              ; the donor comes to <b>{money(cost.donor_net)}</b>
            </>
          )}
          .
        </Typography>
      )}
      <Steps
        steps={steps}
        onTake={(step) => {
          edit('donor.removed', [
            ...removed,
            { name: step.name, mass_kg: step.usual_kg, sale_price: 0, fate: 'for_sale' },
          ]);
        }}
      />
    </Section>
  );
}

/** What to take out and to see to, with cautions; what is taken over goes into the ledger with a usual mass. */
function Steps({ steps, onTake }: { steps: TeardownStep[]; onTake: (step: TeardownStep) => void }) {
  const system = useUnits();
  if (steps.length === 0) return null;
  return (
    <Box component="details" sx={{ mt: 2 }} data-testid="teardown-steps">
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, py: 0.5 }}>
        In which order, and what can hurt
      </Box>
      <Box component="ol" sx={{ m: 0, pl: 3 }}>
        {steps.map((s) => (
          <Box component="li" key={s.name} sx={{ py: 0.5 }}>
            <Box sx={{ display: 'flex', columnGap: 1.5, alignItems: 'baseline', flexWrap: 'wrap' }}>
              <Typography component="span" sx={{ fontWeight: 600 }}>
                {s.name}
              </Typography>
              {s.who !== '' && (
                <Typography component="span" sx={{ color: 'warning.main', fontWeight: 600 }}>
                  ▲ {s.who}
                </Typography>
              )}
              {s.caution !== '' && <Typography component="span">{s.caution}</Typography>}
              {s.ends !== '' && (
                <Typography component="span" color="text.secondary">
                  gone with it: {s.ends}
                </Typography>
              )}
              {s.usual_kg > 0 &&
                (s.done ? (
                  <Typography component="span" variant="caption" color="text.secondary">
                    in the ledger
                  </Typography>
                ) : (
                  <Button
                    onClick={() => {
                      onTake(s);
                    }}
                  >
                    Into the ledger, about {showText(s.usual_kg, 'kg', system, 2)}
                  </Button>
                ))}
            </Box>
          </Box>
        ))}
      </Box>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
        Common practice; the maker’s manual and the law where you live come first.
      </Typography>
    </Box>
  );
}
