import catalogue from '../../units/catalogue.json' with { type: 'json' };
import { useWorkbench } from '../../workbench/WorkbenchContext';

const titles: Record<string, string> = catalogue.schedules;

/** Id and name of every trip and schedule of the brief. */
export function useTripNames(): [string, string][] {
  const { brief } = useWorkbench().draft;
  return [
    ...(brief.trips ?? []).map((t): [string, string] => [t.id, t.name]),
    ...(brief.schedules ?? []).map((s): [string, string] => [s, titles[s] ?? s]),
  ];
}
