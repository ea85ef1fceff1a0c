import { IconButton, Tooltip } from '@mui/material';
import { useColorScheme } from '@mui/material/styles';

export function SchemeButton() {
  const { mode, systemMode, setMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  return (
    <Tooltip title={dark ? 'Light sheet' : 'Dark sheet'}>
      <IconButton
        size="small"
        aria-label={dark ? 'Switch to the light sheet' : 'Switch to the dark sheet'}
        onClick={() => {
          setMode(dark ? 'light' : 'dark');
        }}
      >
        <span aria-hidden style={{ fontSize: 16, width: 20 }}>
          {dark ? '☼' : '☾'}
        </span>
      </IconButton>
    </Tooltip>
  );
}
