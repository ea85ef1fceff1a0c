import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { useEffect, useState } from 'react';
import type { Answers } from '../api/types';
import { FirstQuestions } from '../common/FirstQuestions';
import { same } from '../workbench/merge';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { useProposal } from './useProposal';

/** Pause after the last answer before a chain is looked for. */
const askAfterMs = 700;

/** Says that the chain is a proposal, and lets the three answers move it while one looks. Nothing where it is none. */
export function ProposedChain() {
  const { draft, active, editDesign } = useWorkbench();
  const propose = useProposal();
  const proposed = draft.designs[active.id]?.proposed === true;
  const stored = draft.brief.answers ?? {};
  const [typed, setTyped] = useState<Answers | null>(null);
  const { mutate } = propose;
  useEffect(() => {
    if (typed === null) return undefined;
    const timer = setTimeout(() => {
      mutate(
        { answers: typed },
        {
          onSettled: () => {
            setTyped(null);
          },
        },
      );
    }, askAfterMs);
    return () => {
      clearTimeout(timer);
    };
  }, [mutate, typed]);
  if (!proposed) return null;
  return (
    <Box
      component="section"
      aria-label="Proposed chain"
      sx={{ borderLeft: '3px solid', borderColor: 'secondary.main', pl: 2, py: 0.5, mb: 2 }}
    >
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'baseline', columnGap: 1.5, mb: 1.5 }}>
        <Typography variant="h2">Proposed chain</Typography>
        <Typography variant="caption" color="text.secondary" sx={{ flex: 1, minWidth: 220 }}>
          The cheapest in the library that does this, also with a fifth more air drag and rolling resistance. Change an
          answer and it is proposed anew; choose a part yourself and the chain is yours.
        </Typography>
        <Button
          onClick={() => {
            editDesign('proposed', undefined);
          }}
        >
          Keep this chain
        </Button>
      </Box>
      <FirstQuestions
        kind={draft.donor.kind}
        answers={typed ?? stored}
        onChange={(next) => {
          setTyped(same(next, stored) ? null : next);
        }}
      />
      <Box sx={{ height: 4, mt: 1 }}>
        {(propose.isPending || typed !== null) && <LinearProgress aria-label="Looking for a chain" />}
      </Box>
    </Box>
  );
}
