/**
 * The look of figures from before the last edit while those after it are on their way. It comes late: an answer that is quick leaves
 * nothing to repaint.
 */
export const dimmed = (before: boolean) => ({
  opacity: before ? 0.6 : 1,
  transition: before ? 'opacity 120ms 150ms' : 'none',
});
