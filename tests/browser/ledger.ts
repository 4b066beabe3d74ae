import { type ChildProcess, spawn } from 'node:child_process';
import { cpSync, mkdtempSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

const startWithin = 60_000;
const root = resolve(import.meta.dirname, '../..');

/** The folder of a ledger that took the sample data in, made once for all workers by `setup.ts`. */
export const begunIn = 'LEDGER_BEGUN';

/** Where `setup.ts` has a process that runs many ledgers; without it each ledger is a process. */
export const deskAt = 'LEDGER_DESK';

/** The application with a port and data of its own. */
export class Ledger {
  private process: ChildProcess | undefined;

  private constructor(
    readonly port: number,
    private readonly data: string,
    private readonly more: string[] = [],
    private readonly desk = process.env[deskAt],
  ) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** With further settings of the server's where a test needs them. */
  static async start(...more: string[]): Promise<Ledger> {
    return Ledger.copy(more, process.env[deskAt]);
  }

  /** One that can be killed: a process of its own. */
  static async mortal(): Promise<Ledger> {
    return Ledger.copy([], undefined);
  }

  private static async copy(more: string[], desk: string | undefined): Promise<Ledger> {
    const begun = process.env[begunIn] ?? (process.env[begunIn] = await Ledger.begin());
    const ledger = new Ledger(await freePort(), mkdtempSync(join(tmpdir(), 'ledger-')), more, desk);
    cpSync(begun, ledger.data, { recursive: true });
    // A copy goes its own way from its first start on.
    await ledger.run('--Ledger:NewIdentity', 'true');
    return ledger;
  }

  /** One with nothing in it. */
  static async empty(): Promise<Ledger> {
    const ledger = new Ledger(await freePort(), mkdtempSync(join(tmpdir(), 'ledger-empty-')), ['--Ledger:Demo', '']);
    await ledger.run();
    return ledger;
  }

  /** The sample data is taken in once; each ledger begins with a copy of its own. Gives the folder. */
  static async begin(): Promise<string> {
    const first = new Ledger(await freePort(), mkdtempSync(join(tmpdir(), 'ledger-begin-')));
    await first.run();
    await first.kill();
    return first.data;
  }

  /** Starts it on the same port and data as before. */
  async run(...once: string[]): Promise<void> {
    const app = process.env.LEDGER_APP ?? join(root, '.build/app');
    const args = [
      '--contentRoot',
      app,
      '--Ledger:Web',
      join(root, '.build/web'),
      '--Ledger:Data',
      this.data,
      '--Ledger:Demo',
      join(root, 'demo'),
      // Two cores, and dozens of ledgers that open a visit.
      '--Ledger:ReasonsAhead',
      'false',
      ...this.more,
      ...once,
    ];
    if (this.desk) {
      const answer = await fetch(`${this.desk}/ledgers/${this.port}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(args),
      });
      if (!answer.ok) {
        throw new Error(`The server did not start: ${await answer.text()}`);
      }
      return;
    }

    const server = spawn('dotnet', [join(app, 'RustyLedger.Server.dll'), '--Ledger:Port', `${this.port}`, ...args], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    this.process = server;
    let said = '';
    server.stderr.on('data', (text) => (said += String(text)));
    const until = Date.now() + startWithin;
    while (Date.now() < until && !isGone(server)) {
      if (
        await fetch(`${this.url}/api/people`, { signal: AbortSignal.timeout(2000) }).then(
          (a) => a.ok,
          () => false,
        )
      ) {
        return;
      }
      await new Promise((wait) => setTimeout(wait, 100));
    }
    throw new Error(`The server did not start; was it built? Run ./ledger test browser. ${said}`);
  }

  /** SIGKILL, and wait until it is gone; one among many is stopped. */
  async kill(): Promise<void> {
    if (this.desk) {
      await fetch(`${this.desk}/ledgers/${this.port}`, { method: 'DELETE' });
      return;
    }

    const server = this.process;
    if (!server || isGone(server)) {
      return;
    }
    const gone = new Promise((done) => server.once('exit', done));
    server.kill('SIGKILL');
    await gone;
  }

  async get<T>(path: string): Promise<T> {
    return (await (await fetch(this.url + path)).json()) as T;
  }
}

const isGone = (server: ChildProcess) => server.exitCode !== null || server.signalCode !== null;

/** A free port below those that clients are given, so that none of them takes it while the server is down. */
async function freePort(): Promise<number> {
  for (;;) {
    const port = 20_000 + Math.floor(Math.random() * 10_000);
    const isFree = await new Promise<boolean>((found) => {
      const probe = createServer();
      probe.once('error', () => found(false));
      probe.listen(port, '127.0.0.1', () => probe.close(() => found(true)));
    });
    if (isFree) {
      return port;
    }
  }
}
