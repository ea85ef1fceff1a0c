import { Box, Button, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { useMutation, useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { api, asText, reach, refusals, unwrap } from '../../api/client';
import { roadLoadQuery } from '../../api/queries';
import type { RoadLoadProposal } from '../../api/types';
import { Choice, Numbers, Row, Section } from '../../fields/Fields';
import { FileButton } from '../../fields/FileButton';
import { sourceWords } from '../../fields/QuantityField';
import { Loading } from '../../common/States';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { Said } from '../../units/Said';
import { refusalOf, typedLines } from '../../units/refusal';

const CoastChart = lazy(() => import('./CoastChart'));

const kinds: Record<RoadLoadProposal['kind'], string> = {
  coast_down: 'Coast-down',
  fuel: 'Fuel it used',
  handbook: 'Typical of its kind',
};

const percent = (f: { value: number; half_width: number }) =>
  Math.min(40, Math.max(0.5, Math.round((1000 * f.half_width) / f.value) / 10));

function Proposal({ proposal }: { proposal: RoadLoadProposal }) {
  const { draft, edit } = useWorkbench();
  const { drag_area_m2: area, rolling_coefficient: rolling } = proposal;
  const donor = draft.donor;
  const taken =
    Math.abs(donor.drag_coefficient * donor.frontal_area_m2 - area.value) < 0.002 &&
    Math.abs(donor.rolling_coefficient - rolling.value) < 2e-5;
  const take = () => {
    const from = proposal.provenance;
    edit('donor', {
      ...donor,
      // The area stays as measured or guessed; drag is what the evidence speaks of.
      drag_coefficient: Number((area.value / donor.frontal_area_m2).toFixed(4)),
      rolling_coefficient: Number(rolling.value.toFixed(5)),
      rolling_coefficient_per_m_s: 0,
      sources: {
        ...donor.sources,
        drag_coefficient: { from, spread_percent: percent(area) },
        // Their product is what was found; its doubt is carried by the drag coefficient alone.
        frontal_area_m2: { from, spread_percent: 0 },
        rolling_coefficient: { from, spread_percent: percent(rolling) },
      },
    });
  };
  // As many digits as its width has something to say in.
  const digits = (width: number, least: number) =>
    Math.min(6, Math.max(least, 1 - Math.floor(Math.log10(Math.max(width, 1e-5)))));
  const [areaDigits, rollingDigits] = [digits(area.half_width, 2), digits(rolling.half_width, 4)];
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', md: '150px 180px 180px 1fr auto' },
        columnGap: 2,
        py: 1,
        borderTop: '1px solid',
        borderColor: 'divider',
        alignItems: 'baseline',
      }}
    >
      <Typography sx={{ fontWeight: proposal.best ? 650 : 400 }}>
        {sourceWords[proposal.provenance].mark} {kinds[proposal.kind]}
        {proposal.best && (
          <Typography component="span" variant="caption" color="success.main">
            {' '}
            best
          </Typography>
        )}
      </Typography>
      <Typography variant="body2" className="figures">
        Cd·A {area.value.toFixed(areaDigits)} ± {area.half_width.toFixed(areaDigits)} m²
      </Typography>
      <Typography variant="body2" className="figures">
        Crr {rolling.value.toFixed(rollingDigits)} ± {rolling.half_width.toFixed(rollingDigits)}
      </Typography>
      <Typography variant="caption" color="text.secondary">
        <Said of={proposal.basis} />
        {proposal.unusual.length > 0 && (
          <Typography component="span" variant="caption" color="warning.main" sx={{ display: 'block' }}>
            <Said of={proposal.unusual} />
          </Typography>
        )}
      </Typography>
      {taken ? (
        <Typography variant="caption" color="text.secondary">
          in use
        </Typography>
      ) : (
        <Button variant={proposal.best ? 'outlined' : 'text'} onClick={take}>
          Use this value
        </Button>
      )}
    </Box>
  );
}

/** Road load from what people can find out, each labelled, the best one proposed. */
export function EvidenceSection() {
  const { document, draft, edit, say } = useWorkbench();
  const theme = useTheme();
  const evidence = useQuery(roadLoadQuery(document));
  const log = draft.donor.evidence?.coast_down;
  const read = useMutation({
    mutationFn: (text: string) => reach(async () => unwrap(await api.POST('/api/v1/coast-runs', asText(text)))),
    onSuccess: (runs) => {
      edit('donor.evidence', {
        ...draft.donor.evidence,
        coast_down: {
          mass_kg: draft.donor.curb_mass_kg + (draft.brief.driver_kg ?? 75),
          temperature_c: draft.brief.site?.temperature_c ?? 15,
          altitude_m: draft.brief.site?.altitude_m ?? 0,
          ...log,
          runs,
        },
      });
    },
    onError: (error) => {
      say(typedLines(error)[0] ?? error.message);
    },
  });
  const refused = refusals(evidence.error);
  return (
    <Section
      title="Evidence for the road load"
      note="coast on a straight, level, closed stretch, both ways; never on a public road with traffic"
      action={
        <FileButton
          label="Import a coast-down (CSV)"
          accept=".csv,.txt"
          onRefused={say}
          onText={(text) => {
            read.mutate(text);
          }}
        />
      }
    >
      <Row>
        <Numbers
          group="Evidence"
          at="donor.evidence"
          keys={['fuel_town_l_per_100km', 'fuel_road_l_per_100km', 'fuel_l_per_100km']}
          width={170}
        />
        <Choice
          at="donor.evidence.fuel"
          label="of"
          fallback="petrol"
          width={100}
          options={[
            ['petrol', 'petrol'],
            ['diesel', 'diesel'],
          ]}
        />
        {log && (
          <>
            <Numbers
              group="CoastDown"
              at="donor.evidence.coast_down"
              keys={['mass_kg', 'temperature_c', 'altitude_m']}
              width={140}
            />
            <Numbers group="CoastDown" at="donor.evidence.coast_down" keys={['rotating_mass_factor']} width={210} />
            <Button
              color="inherit"
              onClick={() => {
                edit('donor.evidence.coast_down', undefined);
              }}
            >
              remove the {log.runs.length} runs
            </Button>
          </>
        )}
      </Row>
      {!log && (
        <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
          A log has the columns <span className="figures">time_s, speed_kmh, direction</span>, a row a second, with{' '}
          <span className="figures">out</span> or <span className="figures">back</span> for the direction.
        </Typography>
      )}
      {refused.map((p) => (
        <Typography key={p.path} role="alert" color="error" sx={{ mt: 1 }}>
          {refusalOf(p)}
        </Typography>
      ))}
      {evidence.data?.flags.map((f) => (
        <Typography key={f.at} role="alert" color="error" variant="body2" sx={{ mt: 1 }}>
          <Said of={f.message} />
        </Typography>
      ))}
      {evidence.data && refused.length === 0 && (
        <>
          <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0, mt: 1.5 }}>
            {evidence.data.proposals.map((p) => (
              <Proposal key={p.kind} proposal={p} />
            ))}
          </Box>
          {evidence.data.coast_down && (
            <Suspense fallback={<Loading what="the drawing" />}>
              <CoastChart fit={evidence.data.coast_down} sheet={theme.vars?.palette.sheet ?? theme.palette.sheet} />
            </Suspense>
          )}
        </>
      )}
    </Section>
  );
}
