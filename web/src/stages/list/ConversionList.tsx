import { Box, Button, Link as MuiLink, MenuItem, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type ChangeEvent, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, reach, refusalLines, unwrap } from '../../api/client';
import { conversionsQuery } from '../../api/queries';
import type { ConversionSummary } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { SchemeButton } from '../../common/SchemeButton';
import { kindWords } from '../../common/kinds';
import { NewConversion } from './NewConversion';
import { RemoveDialog } from './RemoveDialog';
import { type Order, orders, sifted } from './sifted';
import { VariantsAtAGlance } from './VariantsAtAGlance';

export function ConversionList() {
  const list = useQuery(conversionsQuery());
  const client = useQueryClient();
  const navigate = useNavigate();
  const [adding, setAdding] = useState(false);
  const [removing, setRemoving] = useState<ConversionSummary | null>(null);
  const [failure, setFailure] = useState<string[]>([]);
  const [sought, setSought] = useState('');
  const [order, setOrder] = useState<Order>('changed');
  const shown = sifted(list.data ?? [], sought, order);
  const file = useRef<HTMLInputElement>(null);

  const open = async (e: ChangeEvent<HTMLInputElement>) => {
    const chosen = e.target.files?.[0];
    e.target.value = '';
    if (!chosen) return;
    try {
      const body = JSON.parse(await chosen.text()) as Record<string, never>;
      const added = unwrap(await reach(() => api.POST('/api/v1/conversions/import', { body })));
      await client.invalidateQueries({ queryKey: ['conversions'] });
      await navigate(`/c/${added.id}/chain`);
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
              sx={{ width: 160 }}
            >
              {(Object.keys(orders) as Order[]).map((o) => (
                <MenuItem key={o} value={o} dense>
                  {orders[o].word}
                </MenuItem>
              ))}
            </TextField>
          </Box>
          <Box component="ul" aria-label="Conversions" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {shown.map((c) => (
              <Box
                component="li"
                key={c.id}
                sx={{
                  display: 'grid',
                  gridTemplateColumns: { xs: '1fr', md: 'minmax(220px, 3fr) 110px minmax(200px, 3fr) 130px auto' },
                  columnGap: 2,
                  rowGap: 0.5,
                  alignItems: 'baseline',
                  py: 1.25,
                  borderTop: '1px solid',
                  borderColor: 'divider',
                  '&:hover': { bgcolor: 'background.paper' },
                }}
              >
                <Box sx={{ minWidth: 0 }}>
                  <MuiLink
                    component={Link}
                    to={`/c/${c.id}/chain`}
                    sx={{ fontWeight: 650, color: 'text.primary', overflowWrap: 'anywhere' }}
                  >
                    {c.name}
                  </MuiLink>
                  <Typography variant="caption" component="div" color="text.secondary">
                    {c.notes}
                  </Typography>
                </Box>
                <Typography variant="body2">{kindWords[c.kind as keyof typeof kindWords]}</Typography>
                <VariantsAtAGlance conversion={c} />
                <Typography variant="caption" className="figures" color="text.secondary">
                  {new Date(c.updated_at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
                </Typography>
                <Box sx={{ whiteSpace: 'nowrap', ml: { xs: -0.75, md: 0 } }}>
                  <Button
                    color="inherit"
                    component="a"
                    href={`/api/v1/conversions/${c.id}/file`}
                    download={`${c.name}.json`}
                    aria-label={`Export ${c.name}`}
                    title="Save the conversion with all its variants as a file"
                    sx={{ color: 'text.secondary' }}
                  >
                    export
                  </Button>
                  <Button
                    color="inherit"
                    aria-label={`Remove ${c.name}`}
                    sx={{ color: 'text.secondary' }}
                    onClick={() => {
                      setRemoving(c);
                    }}
                  >
                    remove
                  </Button>
                </Box>
              </Box>
            ))}
          </Box>
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
