import type { Also, Component, Slot } from '../../api/types';

/** What a component in a place changes of the design. */
export const taken = (at: string, slot: Slot, component: Component | undefined, also: Also[]): [string, unknown][] => [
  [`${at}.electrics.fitted.${slot}`, component],
  ...also.map((a): [string, unknown] => [`${at}.${a.path}`, a.value ?? undefined]),
];
