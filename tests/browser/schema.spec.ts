import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { inflateRawSync } from 'node:zlib';
import Ajv2020 from 'ajv/dist/2020.js';
import { expect, served as test } from './fixtures';

const root = join(import.meta.dirname, '../..');
const read = (path: string): unknown => JSON.parse(readFileSync(join(root, path), 'utf8'));

// An independent validator of JSON Schema 2020-12.
const validate = new Ajv2020({ allErrors: true, strict: false, validateFormats: false }).compile(
  read('docs/machine-file.schema.json') as object,
);

const validateList = new Ajv2020({ allErrors: true, strict: false }).compile(read('docs/bundle.schema.json') as object);

test('the schemas are those that the ledger answers with', async ({ ledger }) => {
  expect(await ledger.get('/api/machine-file.schema.json')).toEqual(read('docs/machine-file.schema.json'));
  expect(await ledger.get('/api/bundle.schema.json')).toEqual(read('docs/bundle.schema.json'));
  expect(await ledger.get('/api/library-file.schema.json')).toEqual(read('docs/library-file.schema.json'));
  const list = {
    format: 'rusty-ledger/bundle',
    version: 1,
    kind: 'machine',
    name: 'LY-03',
    entries: [{ path: 'machine.json', bytes: 2, sha256: '00' }],
  };
  expect(validateList(list)).toBe(true);
  expect(validateList({ ...list, version: 2 })).toBe(false);
  expect(validateList({ ...list, kind: 'shop' })).toBe(false);
  expect(validateList({ ...list, entries: [{ path: 'machine.json' }] })).toBe(false);
});

for (const folder of readdirSync(join(root, 'demo'))) {
  test(`${folder} is a machine file by the published schema`, () => {
    validate(read(`demo/${folder}/machine.json`));
    expect(validate.errors ?? []).toEqual([]);
  });
}

test('what the ledger writes is a machine file by the published schema, and a spoilt one is none', async ({
  ledger,
}) => {
  const file = await ledger.get<{ machine: { tag?: string }; surprise?: number }>('/api/machines/LY-03/file');
  validate(file);
  expect(validate.errors ?? []).toEqual([]);
  delete file.machine.tag;
  file.surprise = 1;
  expect(validate(file)).toBe(false);
  expect(validate.errors?.map((e) => e.message)).toEqual(
    expect.arrayContaining(["must have required property 'tag'", 'must NOT have additional properties']),
  );
});

/** An entry of a ZIP by its central directory, read without the ledger's own reader. */
function entry(zip: Buffer, name: string): unknown {
  const end = zip.lastIndexOf(Buffer.from('PK\x05\x06', 'latin1'));
  let at = zip.readUInt32LE(end + 16);
  for (let left = zip.readUInt16LE(end + 10); left > 0; left--) {
    const [size, nameLength] = [zip.readUInt32LE(at + 20), zip.readUInt16LE(at + 28)];
    if (zip.toString('utf8', at + 46, at + 46 + nameLength) === name) {
      const local = zip.readUInt32LE(at + 42);
      const from = local + 30 + zip.readUInt16LE(local + 26) + zip.readUInt16LE(local + 28);
      return JSON.parse(inflateRawSync(zip.subarray(from, from + size)).toString('utf8'));
    }
    at += 46 + nameLength + zip.readUInt16LE(at + 30) + zip.readUInt16LE(at + 32);
  }
  throw new Error(`There is no ${name}`);
}

test('what stands in a bundle is as its published schemas say', async ({ ledger }) => {
  const library = new Ajv2020({ allErrors: true, strict: false, validateFormats: false }).compile(
    read('docs/library-file.schema.json') as object,
  );
  for (const [of, content, by] of [
    ['machines/LY-05', 'machine.json', validate],
    ['models/oskerra-veil', 'library.json', library],
    ['board-types/stenwath-sw204-c', 'library.json', library],
  ] as const) {
    const zip = Buffer.from(await (await fetch(`${ledger.url}/api/${of}/bundle`)).arrayBuffer());
    validateList(entry(zip, 'bundle.json'));
    expect(validateList.errors ?? []).toEqual([]);
    by(entry(zip, content));
    expect(by.errors ?? []).toEqual([]);
  }
  expect(library({ format: 'rusty-ledger/library', version: 1, boardTypes: [{}], settings: [] })).toBe(false);
});
