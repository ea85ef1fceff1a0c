import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ChangeEvent, useRef, useState } from 'react';
import { Link, useLocation } from 'wouter';
import { api, reach, refusalLines, unwrap } from '../../api/client';
import { conversionsQuery, glanceQuery } from '../../api/stored';
import type { ConversionSummary } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { SchemeButton } from '../../common/SchemeButton';
import { NewConversion } from './NewConversion';
import { RemoveDialog } from './RemoveDialog';
import { useGrowing } from '../../common/useGrowing';
import { type Order, orders, sifted, troubleOf } from './sifted';
import { ConversionRow } from './ConversionRow';

export default function ConversionList() {
  const list = useQuery(conversionsQuery());
  const client = useQueryClient();
  const [, navigate] = useLocation();
  const [adding, setAdding] = useState(false);
  const [removing, setRemoving] = useState<ConversionSummary | null>(null);
  const [failure, setFailure] = useState<string[]>([]);
  const [sought, setSought] = useState('');
  const [order, setOrder] = useState<Order>('changed');
  // Every variant is judged for the order by trouble alone; else only what is in view.
  const judged = useQueries({
    queries: order === 'trouble' ? (list.data ?? []).map((c) => glanceQuery(c.id, c.updated_at)) : [],
    combine: (results) => results.map((r) => (r.data ? troubleOf(r.data) : 0)),
  });
  const trouble = new Map(judged.map((t, i) => [list.data?.[i]?.id ?? '', t]));
  const shown = sifted(list.data ?? [], sought, order, trouble);
  const { shown: drawn, mark } = useGrowing<HTMLDivElement>(shown.length, `${sought} ${order}`);
  const file = useRef<HTMLInputElement>(null);

  const open = async (e: ChangeEvent<HTMLInputElement>) => {
    const chosen = e.target.files?.[0];
    e.target.value = '';
    if (!chosen) return;
    try {
      const body = JSON.parse(await chosen.text()) as Record<string, never>;
      const added = unwrap(await reach(() => api.POST('/api/v1/conversions/import', { body })));
      await client.invalidateQueries({ queryKey: ['conversions'] });
      navigate(`/c/${added.id}/chain`);
    } catch (error) {
      const lines = error instanceof SyntaxError ? [`not a JSON document: ${error.message}`] : refusalLines(error);
      setFailure([`${chosen.name} was not opened.`, ...lines.slice(0, 8)]);
    }
  };

  return (
    <Box component="main" sx={{ maxWidth: 1080, mx: 'auto', px: { xs: 2, sm: 3 }, py: { xs: 2, sm: 4 } }}>
      <Box sx={{ display: 'flex', alignItems: 'flex-end', gap: 1, mb: 3, flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1, minWidth: 260 }}>
          <Typography variant="h1">Joulethesis</Typography>
          <Typography color="text.secondary">
            The owner&rsquo;s goals are claims; donor, parts and physics are the evidence.
          </Typography>
        </Box>
        <SchemeButton />
        <Button component={Link} to="/library">
          Library
        </Button>
        <Button onClick={() => file.current?.click()}>Open a file</Button>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          hidden
          onChange={(e) => void open(e)}
          aria-label="Design file"
        />
        <Button
          variant="contained"
          onClick={() => {
            setAdding(true);
          }}
        >
          New conversion
        </Button>
      </Box>
      {failure.length > 0 && (
        <Box role="alert" sx={{ borderLeft: '3px solid', borderColor: 'error.main', pl: 2, mb: 3 }}>
          {failure.map((line, i) => (
            <Typography key={line} sx={{ fontWeight: i === 0 ? 650 : 400 }}>
              {line}
            </Typography>
          ))}
        </Box>
      )}
      {list.isPending && <Loading what="your conversions" />}
      {list.isError && <Failed error={list.error} onRetry={() => void list.refetch()} />}
      {list.data?.length === 0 && (
        <Box sx={{ borderTop: '1px solid', borderColor: 'divider', py: 6 }}>
          <Typography variant="h2" gutterBottom>
            No conversions yet
          </Typography>
          <Typography color="text.secondary" sx={{ maxWidth: 520 }}>
            Begin with the vehicle: a name, a kind, and as much as you know of how far, how fast and how steep. A first
            chain is proposed from the library; handbook values stand for the rest, marked as such, until you weigh and
            measure.
          </Typography>
        </Box>
      )}
      {list.data && list.data.length > 0 && (
        <>
          <Box sx={{ display: 'flex', gap: 2, mb: 1.5, flexWrap: 'wrap' }}>
            <TextField
              label="Search"
              value={sought}
              onChange={(e) => {
                setSought(e.target.value);
              }}
              sx={{ flex: '1 1 200px', maxWidth: 360 }}
              slotProps={{ inputLabel: { shrink: true } }}
              placeholder="vehicle, kind or note"
            />
            <TextField
              select
              label="Order"
              value={order}
              onChange={(e) => {
                setOrder(e.target.value as Order);
              }}
              sx={{ width: 180 }}
            >
              {(Object.keys(orders) as Order[]).map((o) => (
                <MenuItem key={o} value={o} dense>
                  {orders[o].word}
                </MenuItem>
              ))}
            </TextField>
          </Box>
          <Box component="ul" aria-label="Conversions" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {shown.slice(0, drawn).map((c) => (
              <ConversionRow
                key={c.id}
                conversion={c}
                onRemove={() => {
                  setRemoving(c);
                }}
              />
            ))}
          </Box>
          {drawn < shown.length && (
            <Typography ref={mark} variant="caption" component="div" color="text.secondary" sx={{ py: 1 }}>
              {shown.length - drawn} more
            </Typography>
          )}
          {shown.length === 0 && (
            <Typography color="text.secondary" sx={{ py: 2 }}>
              No conversion matches &ldquo;{sought}&rdquo;.
            </Typography>
          )}
        </>
      )}
      <NewConversion
        open={adding}
        onClose={() => {
          setAdding(false);
        }}
      />
      <RemoveDialog
        conversion={removing}
        onClose={() => {
          setRemoving(null);
        }}
      />
    </Box>
  );
}
