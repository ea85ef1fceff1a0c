import { Button, Typography } from '@mui/material';
import type { MatchAnswer, MatchRequest } from '../../api/types';
import { useSaid } from '../../units/UnitsContext';
import catalogue from '../../units/catalogue.json' with { type: 'json' };
import { MOST_LISTED, stepWords } from './words';

/** How closely the designs of an answer are told apart by what no goal asks about, and how to ask for more of them. */
export function HowClosely({
  answer,
  request,
  onAsk,
}: {
  answer: MatchAnswer;
  request: MatchRequest;
  onAsk: (request: MatchRequest) => void;
}) {
  const said = useSaid();
  const listed = answer.designs.length;
  const ask = (least: number, most: number) => {
    onAsk({
      ...request,
      least_designs: Math.min(least, MOST_LISTED),
      most_designs: Math.min(most, MOST_LISTED),
    });
  };
  return (
    <Typography variant="body2" sx={{ mt: 1 }} data-testid="widened">
      Many differ only in what no goal asks about. There they count as alike:{' '}
      {answer.axes
        .filter((a) => a.active && a.target == null)
        // Masses are told apart as shares of the whole: what is added may be nothing.
        .map((a) => stepWords(a.step_percent, a.axis === 'added_mass' ? 'Mass of the whole vehicle' : said(a.name)))
        .join(', ')}
      .{' '}
      <Button
        onClick={() => {
          ask(listed + 1, Math.max(request.most_designs ?? catalogue.request.most_designs, 4 * listed));
        }}
      >
        Tell them apart more closely
      </Button>
      <Button
        onClick={() => {
          ask(MOST_LISTED, MOST_LISTED);
        }}
      >
        List them all
      </Button>
    </Typography>
  );
}
