/** What a key pressed means here. */
export type Meaning = 'undo' | 'redo' | 'single' | 'none';

/** The parts of a key press that decide. */
interface Press {
  key: string;
  command: boolean;
  alt: boolean;
  shift: boolean;
  repeat: boolean;
  /** A text is being typed into. */
  typing: boolean;
  /** What stands in that text is not what stood there when it got the focus. */
  typed: boolean;
  /** A dialog or menu is open. */
  dialog: boolean;
  /** Single keys are heeded. */
  singles: boolean;
}

/**
 * Undo within a text that is being typed, and within a dialog, stays there: the browser's own. Single keys count where nothing is
 * typed, once a press, unless they are switched off (WCAG 2.2, 2.1.4).
 */
export function meaning(p: Press): Meaning {
  if (p.command && p.key.toLowerCase() === 'z') {
    if (p.dialog || (p.typing && p.typed)) return 'none';
    return p.shift ? 'redo' : 'undo';
  }
  if (p.command || p.alt || p.repeat || p.typing || p.dialog || !p.singles) return 'none';
  return 'single';
}

const place = 'joulethesis-single-keys';

/** Whether single keys are heeded in this browser; a browser that keeps nothing heeds them. */
export function singleKeys(): boolean {
  try {
    return localStorage.getItem(place) !== 'off';
  } catch {
    return true;
  }
}

export function setSingleKeys(on: boolean) {
  try {
    if (on) localStorage.removeItem(place);
    else localStorage.setItem(place, 'off');
  } catch {
    // They are heeded until the page is left.
  }
}
