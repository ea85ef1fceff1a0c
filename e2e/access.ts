import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/** Serious findings about access on a page as it stands, each with `what` was looked at; or of one rule alone. Whatever is on its way to another
 * colour or place is there at once: half faded it is paler than it stays. */
export const seriousFindings = async (page: Page, what: string, rule?: string) => {
  await page.addStyleTag({
    content: '*, ::before, ::after { transition: none !important; animation: none !important }',
  });
  const axe = new AxeBuilder({ page });
  const asked = rule === undefined ? axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']) : axe.withRules(rule);
  const found = await asked.analyze();
  return found.violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${what} ${v.id}: ${v.nodes.map((n) => n.html.slice(0, 200)).join(' | ')}`);
};
