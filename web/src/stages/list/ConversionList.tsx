import {
  Box,
  Button,
  Link as MuiLink,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
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

export function ConversionList() {
  const list = useQuery(conversionsQuery());
  const client = useQueryClient();
  const navigate = useNavigate();
  const [adding, setAdding] = useState(false);
  const [removing, setRemoving] = useState<ConversionSummary | null>(null);
  const [failure, setFailure] = useState<string[]>([]);
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
    <Box component="main" sx={{ maxWidth: 980, mx: 'auto', px: 3, py: 4 }}>
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
            Begin with the vehicle: give it a name and a kind. Handbook values of its kind fill the first sheet and are
            marked as such; you replace them as you weigh and measure.
          </Typography>
        </Box>
      )}
      {list.data && list.data.length > 0 && (
        <Table aria-label="Conversions">
          <TableHead>
            <TableRow>
              <TableCell>Vehicle</TableCell>
              <TableCell>Kind</TableCell>
              <TableCell>Variants</TableCell>
              <TableCell>Goals</TableCell>
              <TableCell>Last change</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {list.data.map((c) => (
              <TableRow key={c.id} hover>
                <TableCell>
                  <MuiLink component={Link} to={`/c/${c.id}/chain`} sx={{ fontWeight: 650, color: 'text.primary' }}>
                    {c.name}
                  </MuiLink>
                  <Typography variant="caption" component="div" color="text.secondary">
                    {c.notes}
                  </Typography>
                </TableCell>
                <TableCell sx={{ whiteSpace: 'nowrap' }}>{kindWords[c.kind as keyof typeof kindWords]}</TableCell>
                <TableCell className="figures" sx={{ minWidth: 96 }}>
                  {c.designs.join(' ')}
                </TableCell>
                <TableCell className="figures">{c.goals}</TableCell>
                <TableCell className="figures" sx={{ whiteSpace: 'nowrap' }}>
                  {new Date(c.updated_at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
                </TableCell>
                <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
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
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
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
