import { expect, test as base, type Locator, type Page } from '@playwright/test';
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));

/** The real program on a database of its own; it can be stopped and started again at the same address. */
export class Service {
  url = '';
  private child: ChildProcess | null = null;
  private port = '0';

  private constructor(
    private readonly database: string,
    private readonly command: 'serve' | 'demo',
  ) {}

  static async start(command: 'serve' | 'demo'): Promise<Service> {
    const admin = process.env.DATABASE_URL;
    if (admin === undefined) throw new Error('DATABASE_URL is not set; run "make test" or scripts/with-database.sh');
    const name = `e2e_${randomBytes(6).toString('hex')}`;
    // The password goes by the environment: a command line can be read by everybody.
    const at = new URL(admin);
    execFileSync('psql', ['-q', '-h', at.hostname, '-p', at.port, '-U', at.username, '-d', at.pathname.slice(1)], {
      env: { ...process.env, PGPASSWORD: at.password },
      input: `CREATE DATABASE ${name};`,
    });
    const service = new Service(admin.replace(/\/[^/]*$/, `/${name}`), command);
    await service.up();
    return service;
  }

  async up(): Promise<void> {
    const child = spawn(`${root}target/debug/joulethesis`, [this.command, '--port', this.port, '--web', 'web/dist'], {
      cwd: root,
      env: { ...process.env, DATABASE_URL: this.database },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    this.url = await new Promise<string>((resolve, reject) => {
      let said = '';
      child.stdout.on('data', (chunk: Buffer) => {
        said += chunk.toString();
        const found = /http:\/\/[\d.]+:(\d+)/.exec(said);
        if (found) resolve(found[0]);
      });
      child.once('exit', (code) => {
        reject(new Error(`the server ended with ${String(code)}: ${said}`));
      });
    });
    this.port = this.url.split(':').at(-1) ?? '0';
  }

  async down(): Promise<void> {
    const child = this.child;
    this.child = null;
    if (!child || child.exitCode !== null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await ended;
  }

  /** Id of the conversion whose name begins so. */
  async find(name: string): Promise<string> {
    const list = (await (await fetch(`${this.url}/api/v1/conversions`)).json()) as { id: string; name: string }[];
    const found = list.find((c) => c.name.startsWith(name));
    if (!found) throw new Error(`no conversion ${name}`);
    return found.id;
  }
}

interface Fixtures {
  /** An empty service. */
  empty: Service;
  /** A service with the demo in it. */
  demo: Service;
  /** Things the page must never do: reach for another machine, break its own policy, throw. */
  watched: Page;
}

export const test = base.extend<Fixtures>({
  // eslint-disable-next-line no-empty-pattern
  empty: async ({}, use) => {
    const service = await Service.start('serve');
    await use(service);
    await service.down();
  },
  // eslint-disable-next-line no-empty-pattern
  demo: async ({}, use) => {
    const service = await Service.start('demo');
    await use(service);
    await service.down();
  },
  watched: async ({ page }, use) => {
    const wrong: string[] = [];
    page.on('request', (r) => {
      const { protocol, hostname } = new URL(r.url());
      if (protocol.startsWith('http') && hostname !== '127.0.0.1') wrong.push(`request to ${r.url()}`);
    });
    page.on('pageerror', (e) => wrong.push(`thrown: ${e.message}`));
    page.on('console', (m) => {
      if (/Content Security Policy|Warning:|Maximum update/.test(m.text())) wrong.push(m.text());
    });
    await use(page);
    if (wrong.length > 0) throw new Error(wrong.join('\n'));
  },
});

export { expect };

/** Waits until everything is stored. */
export const saved = (page: Page) =>
  page
    .getByTestId('save-state')
    .filter({ hasText: /^saved/ })
    .waitFor();

/** Waits until something keeps its place: what still comes above it could carry it away between a press and its release. */
export async function still(what: Locator): Promise<void> {
  let before: number | undefined;
  const keepsItsPlace = async () => {
    const y = (await what.boundingBox())?.y;
    const same = y !== undefined && y === before;
    before = y;
    return same;
  };
  await expect.poll(keepsItsPlace, { intervals: [400] }).toBe(true);
}
