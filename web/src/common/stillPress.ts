/** How far a pointer may tremble between press and release, px. */
const STILL = 4;

/** Has a press on a choice list that is let go where it began do nothing but open it. Of the list itself a release some 200 ms later chooses what
 * then lies under the pointer: where the list opened over its field while the page was busy, an option that nobody looked at. */
export function keepPressesStill(over: Window) {
  let pressed: MouseEvent | null = null;
  const begins = (event: MouseEvent) => {
    const at = event.target;
    pressed = at instanceof Element && at.closest('[role="combobox"][aria-haspopup="listbox"]') !== null ? event : null;
  };
  const ends = (event: MouseEvent) => {
    const began = pressed;
    pressed = null;
    if (began && Math.hypot(event.clientX - began.clientX, event.clientY - began.clientY) <= STILL)
      event.stopPropagation();
  };
  over.addEventListener('mousedown', begins, true);
  over.addEventListener('mouseup', ends, true);
}
