import { Button, Snackbar } from '@mui/material';
import { memo } from 'react';

/** What is said once at the foot of the page, and what can be done about it. */
export interface Message {
  text: string;
  action?: { word: string; act: () => void };
}

/** Says a message; one that can be acted on stays longer and is not clicked away. */
export const MessageBar = memo(function MessageBar({ message, onClear }: { message: Message; onClear: () => void }) {
  const { action } = message;
  return (
    <Snackbar
      open={message.text !== ''}
      autoHideDuration={action ? 20_000 : 5000}
      message={message.text}
      action={
        action && (
          <Button
            color="inherit"
            onClick={() => {
              onClear();
              action.act();
            }}
          >
            {action.word}
          </Button>
        )
      }
      onClose={(_, why) => {
        // A click elsewhere does not take the offer away.
        if (why !== 'clickaway' || !action) onClear();
      }}
    />
  );
});
