import { Box, Link } from '@mui/material';

/** Ways to the parts of a long stage, by their headings; the heading that is reached takes the focus, so that Tab goes on from there. */
export function Jumps({ to }: { to: string[] }) {
  const go = (title: string) => {
    const part = document.querySelector<HTMLElement>(`main section[aria-label="${CSS.escape(title)}"]`);
    if (!part) return;
    part.tabIndex = -1;
    part.focus({ preventScroll: true });
    part.scrollIntoView({ block: 'start' });
  };
  return (
    <Box
      component="nav"
      aria-label="Parts of this stage"
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        columnGap: 2,
        rowGap: 0.5,
        pb: 1.5,
        '@media print': { display: 'none' },
      }}
    >
      {to.map((title) => (
        <Link
          key={title}
          component="button"
          variant="caption"
          onClick={() => {
            go(title);
          }}
          sx={{ py: 0.5 }}
        >
          {title}
        </Link>
      ))}
    </Box>
  );
}
