import { begunIn, Ledger } from './ledger';

export default async function setup(): Promise<void> {
  process.env[begunIn] = await Ledger.begin();
}
