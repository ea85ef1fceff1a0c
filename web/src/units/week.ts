import type { Weekday } from '../api/types';

/** Days from Monday, with the letters of a narrow button. */
export const weekdays: { id: Weekday; short: string; word: string }[] = [
  { id: 'monday', short: 'Mo', word: 'Monday' },
  { id: 'tuesday', short: 'Tu', word: 'Tuesday' },
  { id: 'wednesday', short: 'We', word: 'Wednesday' },
  { id: 'thursday', short: 'Th', word: 'Thursday' },
  { id: 'friday', short: 'Fr', word: 'Friday' },
  { id: 'saturday', short: 'Sa', word: 'Saturday' },
  { id: 'sunday', short: 'Su', word: 'Sunday' },
];

export const dayWord = (id: Weekday) => weekdays.find((d) => d.id === id)?.word ?? id;

/** Hour of a day as a clock shows it: 7.5 is 07:30. */
export function clock(hour: number): string {
  const minutes = Math.round(hour * 60) % (24 * 60);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}

/** Hour of a day from a clock; undefined when it shows none. */
export function hourOf(shown: string): number | undefined {
  const match = /^(\d{1,2}):(\d{2})$/.exec(shown);
  const [hours, minutes] = [Number(match?.[1]), Number(match?.[2])];
  return match && hours < 24 && minutes < 60 ? hours + minutes / 60 : undefined;
}

/** Day and clock of an hour of the week. */
export function dayAndClock(hour: number): string {
  const within = ((hour % 168) + 168) % 168;
  return `${weekdays[Math.floor(within / 24)]?.short ?? ''} ${clock(within % 24)}`;
}

/** Hours and minutes: 7.25 is "7 h 15". */
export function duration(h: number): string {
  const minutes = Math.round(h * 60);
  return `${String(Math.floor(minutes / 60))} h ${String(minutes % 60).padStart(2, '0')}`;
}
