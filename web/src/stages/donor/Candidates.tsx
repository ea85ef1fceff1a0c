import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQueries, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, reach, unwrap } from '../../api/client';
import { candidatesQuery, chainForQuery } from '../../api/queries';
import type { Candidate, Design, VehicleKind } from '../../api/types';
import { kindWords } from '../../common/kinds';
import { Failed } from '../../common/States';
import { Section } from '../../fields/Fields';
import { Toggle } from '../../fields/Toggle';
import { newId } from '../../workbench/ids';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { CandidateTable, inHand } from './CandidateTable';

const most = 12;

/** Vehicles held side by side before one is bought: each with a chain of its own, judged and ranked by the brief. */
export function Candidates() {
  const { draft, edit, editAll, addVariant, say } = useWorkbench();
  const { settled } = useResults();
  const candidates = draft.shortlist.candidates ?? [];
  const [own, setOwn] = useState(true);
  const [open, setOpen] = useState<string | null>(null);
  const chains = useQueries({
    queries: candidates.map((c) => ({ ...chainForQuery(settled, c.donor), enabled: own })),
  });
  const chosen: Record<string, Design> = {};
  candidates.forEach((c, i) => {
    const design = chains[i]?.data?.proposal?.design;
    if (own && design) chosen[c.id] = design;
  });
  const failed = candidates.filter((_, i) => own && chains[i]?.isError);
  const late = chains.find((c) => own && c.isError);
  const chooseAgain = () => {
    chains.filter((c) => c.isError).forEach((c) => void c.refetch());
  };
  const query = useQuery({
    ...candidatesQuery(settled, draft.shortlist, chosen),
    enabled: candidates.length > 0,
  });
  const add = useMutation({
    mutationFn: (kind: VehicleKind) =>
      reach(async () => unwrap(await api.GET('/api/v1/candidates/typical/{kind}', { params: { path: { kind } } }))),
    onSuccess: (donor, kind) => {
      const id = newId();
      const name = `${kindWords[kind]} ${String(candidates.length + 1)}`;
      edit('shortlist.candidates', [...candidates, { id, donor: { ...donor, name } }]);
      setOpen(id);
    },
    onError: (error) => {
      say(`No candidate was added: ${error.message}`);
    },
  });
  const keep = () => {
    edit('shortlist.candidates', [...candidates, { id: newId(), donor: draft.donor }]);
  };
  /** The one becomes the donor; the donor in hand takes its place among the candidates. */
  const take = (candidate: Candidate) => {
    const before: Candidate = { id: newId(), donor: draft.donor };
    editAll([
      ['donor', candidate.donor],
      ['shortlist.candidates', candidates.map((c) => (c.id === candidate.id ? before : c))],
    ]);
    setOpen(null);
    const design = chosen[candidate.id];
    const said = `${candidate.donor.name} is the donor now, ${draft.donor.name} a candidate.`;
    if (design) addVariant(design, undefined, `${said} Its chain is a variant of its own.`);
    else say(said);
  };
  return (
    <Section
      title="Candidates"
      note="before one is bought: each against the brief, as a whole conversion"
      action={
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', justifyContent: 'flex-end', columnGap: 2 }}>
          <Button disabled={candidates.length >= most} onClick={keep}>
            Keep this donor as one
          </Button>
          <TextField
            select
            label="Add a"
            value=""
            disabled={candidates.length >= most || add.isPending}
            onChange={(e) => {
              add.mutate(e.target.value as VehicleKind);
            }}
            sx={{ width: 150 }}
            slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
          >
            <MenuItem value="" disabled>
              vehicle
            </MenuItem>
            {Object.entries(kindWords).map(([kind, word]) => (
              <MenuItem key={kind} value={kind} dense>
                {word}
              </MenuItem>
            ))}
          </TextField>
        </Box>
      }
    >
      {candidates.length === 0 && (
        <Typography color="text.secondary">
          Not bought yet? Add what is for sale: mass, ratings, gearbox, price, rust. A chain is chosen for each, and
          they stand side by side with the reasons.
        </Typography>
      )}
      {candidates.length > 0 && (
        <>
          <Toggle label="a chain chosen for each" on={own} onChange={setOwn} />
          {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
          {late && <Failed error={late.error} onRetry={chooseAgain} />}
          <CandidateTable
            rows={query.data ?? []}
            fresh={!query.isPlaceholderData && !query.isError}
            waiting={candidates.filter((_, i) => own && chains[i]?.isFetching).map((c) => c.id)}
            without={candidates.filter((_, i) => own && chains[i]?.data && !chains[i].data.proposal).map((c) => c.id)}
            failed={failed.map((c) => c.id)}
            partly={candidates.filter((_, i) => chains[i]?.data?.proposal?.meets === 'part').map((c) => c.id)}
            open={open}
            onOpen={setOpen}
            onTake={(id) => {
              const candidate = candidates.find((c) => c.id === id);
              if (candidate && id !== inHand) take(candidate);
            }}
          />
          <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
            Ranked by the goals and their weights; money, the vehicle included, and its state count as a goal nobody
            set. ▲ better and ▼ worse than the others together.
          </Typography>
        </>
      )}
    </Section>
  );
}
