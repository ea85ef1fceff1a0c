import type { Outing, Stay, Week } from '../../api/types';
import { weekdays } from '../../units/week';
import { freshId } from '../../workbench/ids';

const ids = (list: { id: string }[] | undefined) => (list ?? []).map((x) => x.id);

/** One more trip on working days, in the morning. */
export const newOuting = (week: Week, trip: string): Outing => ({
  id: freshId('outing', ids(week.outings)),
  trip,
  days: ['monday', 'tuesday', 'wednesday', 'thursday', 'friday'],
  departure_h: 8,
});

/** One more stay at a socket, every night. */
export const newStay = (week: Week, socket: string): Stay => ({
  id: freshId('stay', ids(week.stays)),
  socket,
  days: weekdays.map((d) => d.id),
  from_h: 20,
  hours_h: 10,
});
