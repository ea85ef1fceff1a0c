import { Button } from '@mui/material';
import { createContext, type ReactNode, useContext } from 'react';

/**
 * Whether what is offered was worked out for the design as it stands: what was sized for the design before an edit is not put over that
 * edit. A context, so that an edit repaints the buttons and not the lines they stand in.
 */
export const FreshOffer = createContext(true);

interface Props {
  /** Its whole name, where the word on it is short. */
  label?: string;
  variant?: 'text' | 'outlined';
  onTake: () => void;
  children?: ReactNode;
}

/** Takes what is offered into the design. */
export function TakeIt({ label, variant = 'text', onTake, children = 'Take it' }: Props) {
  const fresh = useContext(FreshOffer);
  return (
    <Button variant={variant} disabled={!fresh} aria-label={label} onClick={onTake}>
      {children}
    </Button>
  );
}
