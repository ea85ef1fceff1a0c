import { Box, Button, Typography } from '@mui/material';
import { Component, type ReactNode } from 'react';

interface Props {
  /** What it is around, at the head of a sentence. */
  what: string;
  children: ReactNode;
}

/** A file of the interface that is no longer there: the program was replaced by a newer one while the page was open. */
const isGone = (error: Error) =>
  /dynamically imported module|Importing a module script|module script failed/i.test(error.message);

/** Keeps a fault within its part of the page; what was typed is kept outside of it and saved all the same. */
export class Boundary extends Component<Props, { error: Error | null }> {
  override state: { error: Error | null } = { error: null };

  static getDerivedStateFromError(error: unknown) {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    const gone = isGone(error);
    return (
      <Box role="alert" sx={{ borderLeft: '3px solid', borderColor: 'error.main', pl: 2, m: 2, maxWidth: 640 }}>
        <Typography variant="h2" gutterBottom>
          {gone ? 'A newer version is there' : `${this.props.what} could not be shown`}
        </Typography>
        <Typography color="text.secondary" sx={{ mb: 1 }}>
          {gone ? 'Reload the page to go on with it; your edits are kept.' : `Your edits are kept. ${error.message}`}
        </Typography>
        <Button
          variant="outlined"
          onClick={() => {
            if (gone) window.location.reload();
            else this.setState({ error: null });
          }}
        >
          {gone ? 'Reload' : 'Try again'}
        </Button>
      </Box>
    );
  }
}
