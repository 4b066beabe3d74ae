import { type ChildProcess, spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { begunIn, deskAt, Ledger } from './ledger';

/** Begins what all workers share: a process for many ledgers where one was built, and the sample data taken in once. */
export default async function setup(): Promise<() => void> {
  const many = process.env.LEDGER_MANY;
  const desk = many ? spawn('dotnet', [many], { stdio: ['ignore', 'pipe', 'inherit'] }) : undefined;
  if (desk) {
    process.env[deskAt] = await firstLine(desk);
  }
  process.env[begunIn] = await Ledger.begin();
  return () => desk?.kill('SIGKILL');
}

function firstLine(server: ChildProcess): Promise<string> {
  return new Promise((found, failed) => {
    server.once('exit', (code) => failed(new Error(`The process for many ledgers ended with ${code}; was it built?`)));
    createInterface(server.stdout!).once('line', found);
  });
}
