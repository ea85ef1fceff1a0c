import {
  Box,
  Button,
  ButtonBase,
  Divider,
  IconButton,
  Menu,
  MenuItem,
  Select,
  Tooltip,
  Typography,
} from '@mui/material';
import { memo, useEffect, useState } from 'react';
import { Link, useLocation, useParams } from 'wouter';
import type { UnitSystem } from '../api/types';
import { SchemeButton } from '../common/SchemeButton';
import { unitWords } from '../common/kinds';
import { useSaving, useWorkbench, type Workbench } from '../workbench/WorkbenchContext';
import { useShared } from '../workbench/useShared';
import type { SaveState } from '../workbench/saver';

function saveWords(save: SaveState): { word: string; title: string; alarm: boolean } {
  switch (save.kind) {
    case 'saved':
      return save.at
        ? {
            word: `saved ${save.at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}`,
            title: 'Everything is stored.',
            alarm: false,
          }
        : { word: 'saved', title: 'Everything is stored.', alarm: false };
    case 'waiting':
    case 'saving':
      return { word: 'saving …', title: 'Being stored.', alarm: false };
    case 'offline':
      return {
        word: 'not saved, trying again',
        title: `${save.message} Your edits are kept in this browser until it does.`,
        alarm: true,
      };
    case 'refused':
      return { word: 'not saved', title: save.problem.detail, alarm: true };
    case 'gone':
      return { word: 'removed elsewhere', title: 'This conversion was removed in another window.', alarm: true };
  }
}

/** Something that can be done with the variant shown. */
interface ActionOf {
  word: string;
  title: string;
  act?: () => void;
  href?: string;
  download?: string;
}

function Action({ word, title, act, href, download }: ActionOf) {
  const look = { minWidth: 0, px: 1, color: 'text.secondary', whiteSpace: 'nowrap' };
  return href === undefined ? (
    <Button onClick={act} sx={look} title={title}>
      {word}
    </Button>
  ) : (
    <Button component="a" href={href} download={download} sx={look} title={title}>
      {word}
    </Button>
  );
}

/** Whether everything is stored, in a word; pressed, it tries again. */
function SaveWord() {
  const { save: state, retry } = useSaving();
  const save = saveWords(state);
  return (
    <Tooltip title={save.title}>
      <ButtonBase
        data-testid="save-state"
        onClick={retry}
        sx={{
          fontSize: '0.78rem',
          color: save.alarm ? 'error.main' : 'text.secondary',
          fontWeight: save.alarm ? 650 : 400,
          whiteSpace: 'nowrap',
          px: 0.5,
          minHeight: 24,
        }}
      >
        <span role="status">
          {save.alarm && '▲ '}
          {save.word}
        </span>
      </ButtonBase>
    </Tooltip>
  );
}

type Bench = Pick<
  Workbench,
  'id' | 'variants' | 'active' | 'canUndo' | 'canRedo' | 'undo' | 'redo' | 'addVariant' | 'setUnits'
>;

/** The conversion's name, its variants, and what concerns all of the page. */
export function TopBar({ onHelp }: { onHelp: () => void }) {
  const { draft, id, variants, active, canUndo, canRedo, undo, redo, addVariant, setUnits } = useWorkbench();
  const names = useShared(variants.map((v) => draft.designs[v.id]?.name ?? ''));
  const bench = useShared({ id, variants, active, canUndo, canRedo, undo, redo, addVariant, setUnits });
  return <Bar bench={bench} name={draft.name} names={names} units={draft.units} onHelp={onHelp} />;
}

interface BarProps {
  bench: Bench;
  name: string;
  /** What the variants are called, in their order. */
  names: string[];
  units: UnitSystem;
  onHelp: () => void;
}

/** Painted anew only where something it shows has changed: most edits touch nothing of it. */
const Bar = memo(function Bar({ bench, name, names, units, onHelp }: BarProps) {
  const [, navigate] = useLocation();
  const { stage = 'brief' } = useParams();
  useEffect(() => {
    document.title = `${name} ${bench.active.label}, ${stage} · Joulethesis`;
    return () => {
      document.title = 'Joulethesis';
    };
  }, [bench.active.label, name, stage]);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const actions: ActionOf[] = [
    {
      word: `copy ${bench.active.label}`,
      title: 'Copy this variant under the next letter',
      act: () => {
        bench.addVariant();
      },
    },
    {
      word: 'export',
      title: 'Save this variant as a design file',
      href: `/api/v1/designs/${bench.active.id}/document`,
      download: `${name} ${bench.active.label}.json`,
    },
  ];
  actions.push({
    word: 'variants',
    title: 'Variants side by side: names, remarks, removal',
    act: () => navigate(`/c/${bench.id}/compare/${bench.active.label}`),
  });
  return (
    <Box
      component="header"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: { xs: 0.5, sm: 1.25 },
        px: { xs: 1, sm: 2 },
        height: { xs: 42, sm: 46 },
        borderBottom: '1px solid',
        borderColor: 'divider',
        flexShrink: 0,
        overflow: 'hidden',
      }}
    >
      <Typography
        component={Link}
        to="/"
        aria-label="Joulethesis, all conversions"
        sx={{ fontWeight: 700, color: 'text.primary', textDecoration: 'none', letterSpacing: '-0.01em' }}
      >
        <Box component="span" sx={{ display: { xs: 'none', sm: 'inline' } }}>
          Joulethesis
        </Box>
        <Box component="span" aria-hidden sx={{ display: { sm: 'none' }, fontSize: 20, px: 0.75 }}>
          ‹
        </Box>
      </Typography>
      <Divider orientation="vertical" flexItem sx={{ my: 1.5, display: { xs: 'none', sm: 'block' } }} />
      <Typography component="h1" noWrap sx={{ fontWeight: 500, fontSize: '0.9rem', minWidth: 60 }}>
        {name}
      </Typography>
      <Box component="nav" aria-label="Variants" sx={{ display: 'flex', gap: 0.5, ml: 1 }}>
        {bench.variants.map((v, i) => (
          <ButtonBase
            key={v.id}
            component={Link}
            to={`/c/${bench.id}/${stage}/${v.label}`}
            aria-current={v.id === bench.active.id ? 'true' : undefined}
            aria-label={[`Variant ${v.label}`, names[i]].filter(Boolean).join(', ')}
            title={names[i]}
            sx={{
              width: 26,
              height: 26,
              fontWeight: 650,
              fontSize: '0.8rem',
              borderBottom: '2px solid',
              borderColor: v.id === bench.active.id ? 'text.primary' : 'transparent',
              color: v.id === bench.active.id ? 'text.primary' : 'text.secondary',
            }}
          >
            {v.label}
          </ButtonBase>
        ))}
        <Box sx={{ display: { xs: 'none', md: 'contents' } }}>
          {actions.map((a) => (
            <Action key={a.word} {...a} />
          ))}
        </Box>
      </Box>
      <Box sx={{ flex: 1 }} />
      <SaveWord />
      <Button onClick={bench.undo} disabled={!bench.canUndo} sx={{ minWidth: 0, px: 1 }} aria-keyshortcuts="Control+Z">
        undo
      </Button>
      <Button
        onClick={bench.redo}
        disabled={!bench.canRedo}
        sx={{ minWidth: 0, px: 1 }}
        aria-keyshortcuts="Control+Shift+Z"
      >
        redo
      </Button>
      <Box sx={{ display: { xs: 'none', md: 'contents' } }}>
        <Select
          variant="standard"
          disableUnderline
          value={units}
          onChange={(e) => {
            bench.setUnits(e.target.value);
          }}
          inputProps={{ 'aria-label': 'Units' }}
          sx={{ fontSize: '0.8rem', '& .MuiSelect-select': { py: 0.25 } }}
        >
          {Object.entries(unitWords).map(([system, words]) => (
            <MenuItem key={system} value={system}>
              {words}
            </MenuItem>
          ))}
        </Select>
        <SchemeButton />
        <Tooltip title="Keys">
          <IconButton size="small" aria-label="Keyboard shortcuts" onClick={onHelp} sx={{ fontSize: 15, width: 28 }}>
            ?
          </IconButton>
        </Tooltip>
      </Box>
      <IconButton
        size="small"
        aria-label="More"
        aria-haspopup="menu"
        onClick={(e) => {
          setMenu(e.currentTarget);
        }}
        sx={{ display: { md: 'none' }, fontSize: 18, width: 40, height: 40 }}
      >
        ≡
      </IconButton>
      <Menu
        open={menu !== null}
        anchorEl={menu}
        onClose={() => {
          setMenu(null);
        }}
      >
        {actions.map((a) => (
          <MenuItem
            key={a.word}
            component={a.href === undefined ? 'li' : 'a'}
            {...(a.href === undefined ? {} : { href: a.href, download: a.download })}
            onClick={() => {
              setMenu(null);
              a.act?.();
            }}
          >
            {a.word}
          </MenuItem>
        ))}
        {Object.entries(unitWords).map(([system, words]) => (
          <MenuItem
            key={system}
            selected={system === units}
            onClick={() => {
              setMenu(null);
              bench.setUnits(system as UnitSystem);
            }}
          >
            units: {words}
          </MenuItem>
        ))}
        <MenuItem
          onClick={() => {
            setMenu(null);
            onHelp();
          }}
        >
          keyboard shortcuts
        </MenuItem>
        <MenuItem disableRipple>
          colours&ensp;
          <SchemeButton />
        </MenuItem>
      </Menu>
    </Box>
  );
});
