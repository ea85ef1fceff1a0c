import catalogue from '../../units/catalogue.json' with { type: 'json' };
import { Autocomplete, Box, MenuItem, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { libraryQuery } from '../../api/stored';
import type { Gearing, MatchRequest, PartKind } from '../../api/types';
import { QuantityField } from '../../fields/QuantityField';
import { Row } from '../../fields/Fields';
import type { Field } from '../../units/units';
import { isOfChain } from '../../parts/records';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { MOST_LISTED } from './words';

const number = (key: string, label: string, unit: string, min: number, max: number, absent: string): Field => ({
  key,
  label,
  unit,
  dimension: { kg: 'mass', 'km/h': 'speed' }[unit] ?? '',
  min,
  max,
  whole: unit === '',
  required: false,
  claimable: false,
  default: absent,
});

const caps: Field[] = [
  number('budget', 'Most cost in this search', 'money', 0, 1e9, 'that of the brief'),
  number('most_added_kg', 'Most mass added', 'kg', -20_000, 20_000, 'not capped'),
  number('most_modules', 'Modules at hand', '', 1, 24_000, 'as many as needed'),
  number('hill_kmh', 'Hill counts at', 'km/h', 1, 200, 'the brief’s, or 30 km/h'),
];

/** How many designs are listed: key, label and the fewest accepted. */
const listed = [
  ['least_designs', 'List about at least', 1],
  ['most_designs', 'List about at most', 5],
] as const;

const kinds: Record<PartKind, string> = {
  motor: 'motors',
  controller: 'controllers',
  module: 'cells and modules',
  charger: 'chargers',
};

/** Warnings that a match keeps unless they are allowed; ids as in the findings. */
const warnings = Object.fromEntries(catalogue.warnings.map((w) => [w.id, w.name]));

function Many({
  label,
  options,
  value,
  onChange,
  groupOf,
  word = (x) => x,
  empty,
}: {
  label: string;
  options: string[];
  value: string[];
  onChange: (value: string[]) => void;
  groupOf?: (option: string) => string;
  word?: (option: string) => string;
  empty: string;
}) {
  return (
    <Autocomplete
      multiple
      size="small"
      options={options}
      value={value}
      getOptionLabel={word}
      {...(groupOf ? { groupBy: groupOf } : {})}
      onChange={(_, next) => {
        onChange(next);
      }}
      sx={{ width: 330 }}
      renderInput={(props) => (
        <TextField
          {...props}
          label={label}
          placeholder={value.length === 0 ? empty : ''}
          slotProps={{ ...props.slotProps, inputLabel: { ...props.slotProps.inputLabel, shrink: true } }}
        />
      )}
    />
  );
}

/** What is searched for: Constraints. Stored with the conversion. */
export function Conditions({ gearings }: { gearings: Gearing[] }) {
  const { draft, edit } = useWorkbench();
  const library = useQuery(libraryQuery());
  const request: MatchRequest = draft.brief.search ?? {};
  const set = (key: string, value: unknown) => {
    edit(`brief.search.${key}`, value);
  };
  const parts = (library.data?.parts ?? []).filter((p) => !p.retired && isOfChain(p.record));
  const kindOf = new Map(parts.flatMap((p) => (isOfChain(p.record) ? [[p.record.name, p.record.part] as const] : [])));
  const order = Object.keys(kinds);
  const names = parts
    .map((p) => p.record.name)
    .sort((a, b) => order.indexOf(kindOf.get(a) ?? '') - order.indexOf(kindOf.get(b) ?? '') || a.localeCompare(b));
  const group = (name: string) => kinds[kindOf.get(name) ?? 'motor'];
  const small = request.pack?.approach === 'small' ? request.pack : null;
  const trips = [
    ...(draft.brief.trips ?? []).map((t): [string, string] => [t.id, t.name]),
    ...(draft.brief.schedules ?? []).map((s): [string, string] => [s, s]),
  ];
  const foreign = [...new Set(parts.map((p) => p.record.currency).filter((c) => c != null))].filter(
    (c) => c !== draft.brief.currency,
  );
  const select = (
    key: string,
    label: string,
    value: string,
    options: [string, string][],
    width = 210,
    take: (v: string) => void = (v) => {
      set(key, v);
    },
  ) => (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => {
        take(e.target.value);
      }}
      sx={{ width }}
      slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
    >
      {options.map(([v, word]) => (
        <MenuItem key={v} value={v} dense>
          {word}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <Box data-testid="conditions" sx={{ display: 'grid', gap: 2.5, pb: 1 }}>
      <Row>
        <Many
          label="Parts you own: used, and cost nothing"
          options={names}
          value={request.in_hand ?? []}
          groupOf={group}
          empty="none"
          onChange={(v) => {
            set('in_hand', v);
          }}
        />
        <Many
          label="Parts left out"
          options={names}
          value={request.exclude ?? []}
          groupOf={group}
          empty="none"
          onChange={(v) => {
            set('exclude', v);
          }}
        />
        <Many
          label="Ways of gearing"
          options={gearings.map((g) => g.id)}
          word={(id) => gearings.find((g) => g.id === id)?.name ?? id}
          value={request.gearings ?? []}
          empty="all that fit the donor"
          onChange={(v) => {
            set('gearings', v);
          }}
        />
      </Row>
      <Row>
        {select('current', 'Motor current', request.current ?? 'any', [
          ['any', 'direct or alternating'],
          ['direct', 'direct: cheap, strong'],
          ['alternating', 'alternating: brakes electrically'],
        ])}
        {select('cells', 'Cells', request.cells ?? 'any', [
          ['any', 'new or salvaged'],
          ['new', 'new only'],
          ['salvaged', 'salvaged only'],
        ])}
        {select(
          'pack',
          'Pack',
          request.pack?.approach ?? 'big',
          [
            ['big', 'big: every range on one charge'],
            ['small', 'small, charging en route'],
          ],
          240,
          (v) => {
            set('pack', v === 'small' ? { approach: 'small', range_share: 0.5, charge_h: 1.5 } : { approach: 'big' });
          },
        )}
        {small && (
          <>
            <QuantityField
              of={number('range_share', 'One charge covers', '%', 5, 100, '')}
              value={small.range_share * 100}
              width={130}
              onChange={(v) => {
                if (v !== undefined) set('pack', { ...small, range_share: v / 100 });
              }}
            />
            <QuantityField
              of={number('charge_h', 'Full again within', 'h', 0.1, 48, '')}
              value={small.charge_h}
              width={130}
              onChange={(v) => {
                if (v !== undefined) set('pack', { ...small, charge_h: v });
              }}
            />
          </>
        )}
        {select(
          'certainty',
          'Count a required goal as met when',
          request.certainty ?? 'p50',
          [
            ['p50', 'the median meets it'],
            ['p10', 'nine samples in ten meet it (slower)'],
          ],
          240,
        )}
      </Row>
      <Row>
        {caps.map((of) => (
          <QuantityField
            key={of.key}
            of={of}
            width={150}
            currency={draft.brief.currency ?? ''}
            value={request[of.key as keyof MatchRequest] as number | undefined}
            onChange={(v) => {
              set(of.key, v);
            }}
          />
        ))}
        {select(
          'trip',
          'Range counts on',
          request.trip ?? '',
          [['', 'the trip of the range goal'], ...trips],
          210,
          (v) => {
            set('trip', v === '' ? undefined : v);
          },
        )}
        {select(
          'motor_counts',
          'Motors on one shaft',
          JSON.stringify(request.motor_counts ?? [1, 2]),
          [
            ['[1]', 'one'],
            ['[1,2]', 'one or two'],
            ['[2]', 'two'],
            ['[1,2,3,4]', 'up to four'],
          ],
          140,
          (v) => {
            set('motor_counts', JSON.parse(v));
          },
        )}
      </Row>
      <Row>
        <Many
          label="Warnings to allow"
          options={Object.keys(warnings)}
          word={(id) => warnings[id] ?? id}
          value={request.allow ?? []}
          empty="none"
          onChange={(v) => {
            set('allow', v);
          }}
        />
        <QuantityField
          of={{ ...number('resolution_percent', 'Treat as equal within', '%', 0.1, 25, '5'), whole: false }}
          value={request.resolution_percent ?? 5}
          width={200}
          onChange={(v) => {
            set('resolution_percent', v ?? 5);
          }}
        />
        {listed.map(([key, label, fewest]) => {
          const usual = catalogue.request[key];
          return (
            <QuantityField
              key={key}
              of={{ ...number(key, label, 'designs', fewest, MOST_LISTED, String(usual)), whole: true }}
              value={request[key] ?? usual}
              width={170}
              onChange={(v) => {
                set(key, v ?? usual);
              }}
            />
          );
        })}
        {foreign.map((code) => (
          <QuantityField
            key={code}
            of={number(
              `rates.${code}`,
              `1 ${code} in ${draft.brief.currency ?? ''}`,
              'money',
              1e-6,
              1e6,
              'its parts are left out',
            )}
            value={request.rates?.[code]}
            width={170}
            currency={draft.brief.currency ?? ''}
            onChange={(v) => {
              const { ...rates } = request.rates ?? {};
              if (v === undefined) Reflect.deleteProperty(rates, code);
              else rates[code] = v;
              set('rates', rates);
            }}
          />
        ))}
      </Row>
      <Typography variant="caption" color="text.secondary">
        Stops of the findings are never allowed. Goals marked <i>required</i> in the Brief filter; wanted ones and
        weights rank.
      </Typography>
    </Box>
  );
}
