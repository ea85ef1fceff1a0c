import { IconButton } from '@mui/material';

/** Takes one entry of a list away; undo brings it back, so it does not ask. */
export function RemoveButton({
  what,
  kept = '',
  onClick,
}: {
  what: string;
  /** Why it cannot go; empty when it can. */
  kept?: string;
  onClick: () => void;
}) {
  return (
    <IconButton
      size="small"
      aria-label={`Remove ${what}`}
      aria-disabled={kept !== ''}
      title={kept === '' ? `Remove ${what}` : kept}
      onClick={() => {
        if (kept === '') onClick();
      }}
      sx={{ fontSize: 13, width: 28, height: 28, mt: 1.25, opacity: kept === '' ? 1 : 0.4 }}
    >
      ✕
    </IconButton>
  );
}
