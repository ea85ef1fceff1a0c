import { IconButton } from '@mui/material';

/** Takes one entry of a list away; undo brings it back, so it does not ask. */
export function RemoveButton({ what, onClick }: { what: string; onClick: () => void }) {
  return (
    <IconButton
      size="small"
      aria-label={`Remove ${what}`}
      title={`Remove ${what}`}
      onClick={onClick}
      sx={{ fontSize: 13, width: 28, height: 28, mt: 1.25 }}
    >
      ✕
    </IconButton>
  );
}
