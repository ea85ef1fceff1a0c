import { Button, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { layoutFilesQuery } from '../../api/queries';
import type { LayoutSheet } from '../../api/types';
import { download, fileName } from '../../common/download';
import { Failed } from '../../common/States';
import { Section } from '../../fields/Fields';
import { useWorkbench } from '../../workbench/WorkbenchContext';

const types = { csv: 'text/csv', dxf: 'image/vnd.dxf', svg: 'image/svg+xml' } as const;

/** One file of the layout, worked out when it is asked for. */
export function WorkshopFile({
  of,
  form,
  label,
}: {
  of: 'account' | 'plan' | 'plate';
  form: keyof typeof types;
  label: string;
}) {
  const { document } = useWorkbench();
  const client = useQueryClient();
  const [state, setState] = useState<{ busy: boolean; error?: unknown }>({ busy: false });
  const save = async () => {
    setState({ busy: true });
    try {
      const files = await client.fetchQuery(layoutFilesQuery(document));
      const text = of === 'account' ? files.account_csv : form === 'csv' ? undefined : files[of]?.[form];
      if (text !== undefined) download(`${fileName(document.name)}-${of}.${form}`, types[form], text);
      setState({ busy: false });
    } catch (error) {
      setState({ busy: false, error });
    }
  };
  return (
    <>
      <Button disabled={state.busy} onClick={() => void save()}>
        {label}
      </Button>
      {state.error !== undefined && <Failed error={state.error} onRetry={() => void save()} />}
    </>
  );
}

/** The layout as files: what is cut, drawn on, weighed against. */
export function WorkshopFiles({ sheet }: { sheet: LayoutSheet }) {
  const { document } = useWorkbench();
  return (
    <Section title="For the workshop" note="the layout as files, 1:1 in millimetres">
      <WorkshopFile of="account" form="csv" label="Mass account as CSV" />
      <WorkshopFile of="plan" form="dxf" label="Plan as DXF" />
      <WorkshopFile of="plan" form="svg" label="Plan as SVG" />
      <Button
        onClick={() => {
          download(`${fileName(document.name)}-layout.json`, 'application/json', JSON.stringify(sheet, null, 2));
        }}
      >
        Layout as JSON
      </Button>
      <Typography variant="caption" color="text.secondary" component="p">
        The plan shows the vehicle from above and from the left with every bay and every block that has a place; sizes
        that were not stated are those of the mass.
      </Typography>
    </Section>
  );
}
