import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

const root = resolve(import.meta.dirname, '../..');

/** The published application as a process of its own, with data of its own. */
export class Ledger {
  private process: ChildProcess | undefined;

  private constructor(
    readonly port: number,
    private readonly data: string,
  ) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  static async start(): Promise<Ledger> {
    const ledger = new Ledger(await freePort(), mkdtempSync(join(tmpdir(), 'ledger-')));
    await ledger.run();
    return ledger;
  }

  /** Starts it on the same port and data as before. */
  async run(): Promise<void> {
    const app = join(root, '.build/app');
    const args = [
      '--contentRoot',
      app,
      '--Ledger:Web',
      join(root, '.build/web'),
      '--Ledger:Port',
      `${this.port}`,
      '--Ledger:Data',
      this.data,
      '--Ledger:Demo',
      join(root, 'demo'),
    ];
    this.process = spawn('dotnet', [join(app, 'RustyLedger.Server.dll'), ...args], { stdio: 'ignore' });
    for (let i = 0; i < 300; i++) {
      if (
        await fetch(`${this.url}/api/people`).then(
          (a) => a.ok,
          () => false,
        )
      ) {
        return;
      }
      await new Promise((wait) => setTimeout(wait, 100));
    }
    throw new Error('The server did not start; was it built? Run ./ledger test browser.');
  }

  /** SIGKILL, and wait until it is gone. */
  async kill(): Promise<void> {
    const gone = new Promise((done) => this.process?.once('exit', done));
    this.process?.kill('SIGKILL');
    await gone;
  }

  [Symbol.asyncDispose](): Promise<void> {
    return this.kill();
  }

  async get<T>(path: string): Promise<T> {
    return (await (await fetch(this.url + path)).json()) as T;
  }
}

async function freePort(): Promise<number> {
  return new Promise((found) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => found(typeof address === 'object' && address ? address.port : 0));
    });
  });
}
