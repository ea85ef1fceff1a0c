import { unitWords } from '../../common/kinds';
import { Box, Button, MenuItem, Select, Table, TableBody, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Toggle } from '../../fields/Toggle';
import { Link } from 'wouter';
import { api, reach, refusalLines, unwrap } from '../../api/client';
import { libraryQuery } from '../../api/stored';
import type { LibraryKind, UnitSystem } from '../../api/types';
import { FileButton } from '../../fields/FileButton';
import { Failed, Loading } from '../../common/States';
import { SchemeButton } from '../../common/SchemeButton';
import { UnitsContext } from '../../units/UnitsContext';
import { summary } from '../../parts/summary';
import { type Act, type Editing, PartRow, UnreadableParts } from './LibraryParts';
import { useGrowing } from '../../common/useGrowing';
import { PartEditor } from './PartEditor';
import { RemoveTogether } from './RemoveTogether';
import { blank, one, titles } from '../../parts/records';

/** Every part there is: own ones added, copied, changed and retired; files of them in and out. */
export default function LibraryPage() {
  const client = useQueryClient();
  const library = useQuery(libraryQuery());
  const [system, setSystem] = useState<UnitSystem>('metric');
  const [kind, setKind] = useState<LibraryKind>('motor');
  const [words, setWords] = useState('');
  const [ownOnly, setOwnOnly] = useState(false);
  const [replace, setReplace] = useState(false);
  const [editing, setEditing] = useState<Editing | null>(null);
  const [said, setSaidOnly] = useState<{ alarm: boolean; lines: string[] } | null>(null);
  const setSaid = (words: { alarm: boolean; lines: string[] } | null) => {
    setSaidOnly(words);
    // What happened stands above the list, which may be scrolled far down.
    if (words) window.scrollTo({ top: 0 });
  };
  const parts = library.data?.parts ?? [];
  const unreadable = library.data?.unreadable ?? [];
  const listed = parts
    .filter((p) => p.record.part === kind && (!ownOnly || p.id != null))
    .filter((p) => `${p.record.name} ${summary(p.record, system)}`.toLowerCase().includes(words.toLowerCase()))
    .sort((a, b) => Number(a.retired) - Number(b.retired));
  const { shown, mark } = useGrowing<HTMLDivElement>(listed.length, `${kind} ${words} ${String(ownOnly)}`);
  const refused = (error: unknown, what: string) => {
    setSaid({ alarm: true, lines: [what, ...refusalLines(error)] });
  };
  const fresh = () => client.invalidateQueries({ queryKey: ['library'] });
  const read = async (text: string, name: string) => {
    try {
      const done = unwrap(
        await reach(() =>
          api.POST('/api/v1/library/import', {
            params: { query: { same_name: replace ? 'replace' : 'refuse' } },
            body: text,
            bodySerializer: (body) => body,
            headers: { 'content-type': /^\s*[[{]/.test(text) ? 'application/json' : 'text/csv' },
          }),
        ),
      );
      await fresh();
      setOwnOnly(true);
      setSaid({
        alarm: false,
        lines: [
          `${name}: ${String(done.added)} added, ${String(done.replaced)} replaced.`,
          ...(done.doubted.length > 0 ? [`Check these: ${done.doubted.join(', ')}.`] : []),
        ],
      });
    } catch (error) {
      refused(error, `${name} was not imported; nothing was changed.`);
    }
  };
  const act: Act = async (what, run) => {
    try {
      unwrap(await reach(run));
      setSaid(null);
    } catch (error) {
      refused(error, what);
    }
    await fresh();
  };
  return (
    <UnitsContext value={system}>
      <Box component="main" sx={{ maxWidth: 1180, mx: 'auto', px: 3, py: 3 }}>
        <Box sx={{ display: 'flex', alignItems: 'flex-end', gap: 1, mb: 2, flexWrap: 'wrap' }}>
          <Box sx={{ flex: 1, minWidth: 300 }}>
            <Typography variant="caption">
              <Link to="/" style={{ color: 'inherit' }}>
                Joulethesis
              </Link>
            </Typography>
            <Typography variant="h1">Library</Typography>
            <Typography color="text.secondary">
              Built-in parts are invented and typical of their class. Add what you can really buy or have on the shelf.
              A price without a currency counts in that of the brief it is used for.
            </Typography>
          </Box>
          <Select
            variant="standard"
            disableUnderline
            value={system}
            onChange={(e) => {
              setSystem(e.target.value);
            }}
            inputProps={{ 'aria-label': 'Units' }}
            sx={{ fontSize: '0.8rem' }}
          >
            {Object.entries(unitWords).map(([system, words]) => (
              <MenuItem key={system} value={system}>
                {words}
              </MenuItem>
            ))}
          </Select>
          <SchemeButton />
          <Button component="a" href="/api/v1/library/export?form=csv" download="library.csv">
            all as CSV
          </Button>
          <Button component="a" href="/api/v1/library/export?form=csv&own=true" download="own-parts.csv">
            own as CSV
          </Button>
          <Button component="a" href="/api/v1/library/export?form=json&own=true" download="own-parts.json">
            own as JSON
          </Button>
          <FileButton
            label="Import"
            accept=".csv,.json,text/csv,application/json"
            onText={(text, name) => void read(text, name)}
            onRefused={(message) => {
              setSaid({ alarm: true, lines: [message] });
            }}
          />
          <Button
            variant="contained"
            onClick={() => {
              setEditing({ start: blank[kind] });
            }}
          >
            new {one[kind]}
          </Button>
        </Box>
        {said && (
          <Box
            role={said.alarm ? 'alert' : 'status'}
            sx={{ borderLeft: '3px solid', borderColor: said.alarm ? 'error.main' : 'success.main', pl: 2, mb: 2 }}
          >
            {said.lines.map((line, i) => (
              <Typography key={line} variant="body2" sx={{ fontWeight: i === 0 ? 650 : 400 }}>
                {line}
              </Typography>
            ))}
          </Box>
        )}
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mb: 1, flexWrap: 'wrap' }}>
          <Box role="tablist" aria-label="Kinds of part" sx={{ display: 'flex', flexWrap: 'wrap' }}>
            {(Object.keys(titles) as LibraryKind[]).map((k) => (
              <Button
                key={k}
                role="tab"
                aria-selected={k === kind}
                onClick={() => {
                  setKind(k);
                }}
                sx={{
                  borderBottom: '2px solid',
                  borderRadius: 0,
                  borderColor: k === kind ? 'text.primary' : 'transparent',
                  color: k === kind ? 'text.primary' : 'text.secondary',
                }}
              >
                {titles[k]}{' '}
                <Box component="span" className="figures" sx={{ ml: 0.75, fontWeight: 400 }}>
                  {parts.filter((p) => p.record.part === k).length}
                </Box>
              </Button>
            ))}
          </Box>
          <TextField
            placeholder="search"
            value={words}
            onChange={(e) => {
              setWords(e.target.value);
            }}
            slotProps={{ htmlInput: { 'aria-label': 'Search parts' } }}
            sx={{ width: 180 }}
          />
          <Box sx={{ flex: 1 }} />
          <Toggle label="own only" on={ownOnly} onChange={setOwnOnly} />
          <Toggle label="Overwrite parts with the same name" on={replace} onChange={setReplace} />
        </Box>
        {ownOnly && listed.length > 1 && (
          <RemoveTogether parts={listed} narrowed={words !== ''} one={one[kind]} act={act} />
        )}
        {library.isPending && <Loading what="the library" />}
        {library.isError && <Failed error={library.error} onRetry={() => void library.refetch()} />}
        {unreadable.length > 0 && <UnreadableParts unreadable={unreadable} onEdit={setEditing} act={act} />}
        {library.data && listed.length === 0 && (
          <Typography color="text.secondary" sx={{ py: 3 }}>
            {ownOnly
              ? 'No part of your own of this kind yet. Copy a built-in one that is near, or import a file: "all as CSV" shows the columns.'
              : `No part matches “${words}”.`}
          </Typography>
        )}
        <Table size="small" aria-label={titles[kind]}>
          <TableBody>
            {listed.slice(0, shown).map((p) => (
              <PartRow key={p.id ?? p.record.name} part={p} system={system} onEdit={setEditing} act={act} />
            ))}
          </TableBody>
        </Table>
        {shown < listed.length && (
          <Typography ref={mark} variant="caption" component="div" color="text.secondary" sx={{ py: 1 }}>
            {listed.length - shown} more
          </Typography>
        )}
        {editing && (
          <PartEditor
            start={editing.start}
            id={editing.id}
            version={editing.version}
            onClose={() => {
              setEditing(null);
            }}
          />
        )}
      </Box>
    </UnitsContext>
  );
}
