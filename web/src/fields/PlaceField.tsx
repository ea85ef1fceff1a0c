import { MenuItem, TextField } from '@mui/material';
import { memo } from 'react';
import { get } from '../workbench/merge';
import { useWorkbench, type Workbench } from '../workbench/WorkbenchContext';
import { Numbers } from './Fields';

type Place = 'front' | 'middle' | 'rear' | { behind_front_axle_m: number };

const words: [string, string][] = [
  ['', 'usual for the kind'],
  ['front', 'over the front axle'],
  ['middle', 'half way between'],
  ['rear', 'over the rear axle'],
  ['metres', 'by its distance'],
];

interface PlaceProps {
  at: string;
  label: string;
  width?: number;
}

/** Where along the vehicle a part sits, as axle loads count it: in a word, or by its distance behind the front axle. */
export function PlaceField(props: PlaceProps) {
  const { draft, edit } = useWorkbench();
  return <OnePlace {...props} place={get(draft, props.at) as Place | null | undefined} edit={edit} />;
}

const OnePlace = memo(function OnePlace({
  at,
  label,
  width = 170,
  place,
  edit,
}: PlaceProps & { place: Place | null | undefined; edit: Workbench['edit'] }) {
  const byDistance = typeof place === 'object' && place !== null;
  return (
    <>
      <TextField
        select
        label={label}
        value={byDistance ? 'metres' : (place ?? '')}
        onChange={(e) => {
          const chosen = e.target.value;
          // A metre to begin with, to be written over.
          edit(at, chosen === '' ? undefined : chosen === 'metres' ? { behind_front_axle_m: 1 } : chosen);
        }}
        sx={{ width }}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        {words.map(([value, word]) => (
          <MenuItem key={value} value={value} dense>
            {word}
          </MenuItem>
        ))}
      </TextField>
      {byDistance && <Numbers group="AxlePlace" at={at} keys={['behind_front_axle_m']} width={150} />}
    </>
  );
});
