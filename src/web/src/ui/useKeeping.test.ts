import { act, createElement } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Refusal, Unreachable } from '../api/ledger';
import { useKeeping, writtenBefore } from './useKeeping';

interface Note {
  version: number;
  text: string;
  left?: string[];
}

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });
const first: Note = { version: 3, text: 'as it came' };
let form: ReturnType<typeof useKeeping<Note>>;
let root: Root;

/** A form of a page, opened anew. */
async function open(send: (note: Note) => Promise<{ version: number }>, from = first): Promise<void> {
  function Form() {
    form = useKeeping('note/1', from, send);
    return null;
  }
  root = createRoot(document.createElement('div'));
  await act(async () => {
    root.render(createElement(Form));
    await Promise.resolve();
  });
}

const leave = () => act(() => root.unmount());
const unreachable = () => Promise.reject(new Unreachable());

beforeEach(() => localStorage.clear());
afterEach(() => {
  leave();
  vi.useRealTimers();
});

test('what was written and could not be sent is there again, and is sent as soon as the page is open', async () => {
  await open(unreachable);
  act(() => form.write({ ...first, text: 'typed with the ledger gone' }));
  await act(() => form.keep(form.edit));
  expect(form.isChanged).toBe(true);
  leave();
  const sent: Note[] = [];
  await open((note) => {
    sent.push(note);
    return Promise.resolve({ version: 4 });
  });
  expect(form.edit.text).toBe('typed with the ledger gone');
  expect(sent).toEqual([{ version: 3, text: 'typed with the ledger gone' }]);
  expect(form.isChanged).toBe(false);
  expect(localStorage.length).toBe(0);
});

test('while the page stays open it is sent again by itself', async () => {
  vi.useFakeTimers();
  let isGone = true;
  const sent: string[] = [];
  await open((note) => {
    if (isGone) {
      return unreachable();
    }
    sent.push(note.text);
    return Promise.resolve({ version: 4 });
  });
  act(() => form.write({ ...first, text: 'a' }));
  await act(() => form.keep(form.edit));
  act(() => form.write({ ...first, text: 'a and more' }));
  isGone = false;
  await act(() => vi.advanceTimersByTimeAsync(4000));
  expect(sent).toEqual(['a and more']);
  expect(form.error).toBeNull();
});

test('what was asked for beyond what was written is asked for again, such as to close it', async () => {
  vi.useFakeTimers();
  let isGone = true;
  const sent: Note[] = [];
  await open((note) => {
    if (isGone) {
      return unreachable();
    }
    sent.push(note);
    return Promise.resolve({ version: 4 });
  });
  await act(() => form.keep({ ...form.edit, left: ['closed'] }));
  isGone = false;
  await act(() => vi.advanceTimersByTimeAsync(4000));
  expect(sent).toEqual([{ ...first, left: ['closed'] }]);
});

test('what was written over an older version clashes as it would have then, and taking theirs lets the own go', async () => {
  const theirs = { version: 9, text: 'by somebody else' };
  const versions: number[] = [];
  const clash = (note: Note) => {
    versions.push(note.version);
    return note.version === 9
      ? Promise.resolve({ version: 10 })
      : Promise.reject(new Refusal(409, { theirs: { text: theirs.text }, yours: { text: note.text }, version: 9 }));
  };
  await open(unreachable);
  act(() => form.write({ ...first, text: 'mine' }));
  leave();
  await open(clash, theirs);
  expect(versions).toEqual([3]);
  expect(form.isClash).toBe(true);
  expect(form.edit.text).toBe('mine');
  act(() => form.settle(theirs));
  expect(form.edit).toEqual(theirs);
  expect(form.isClash).toBe(false);
  expect(localStorage.length).toBe(0);
});

test('where only the answer was lost, the same text is no clash', async () => {
  await open((note) =>
    Promise.reject(new Refusal(409, { theirs: { text: note.text }, yours: { text: note.text }, version: 4 })),
  );
  act(() => form.write({ ...first, text: 'arrived' }));
  await act(async () => expect(await form.keep(form.edit)).toBe(true));
  expect(form.isClash).toBe(false);
  expect(localStorage.length).toBe(0);
});

test('a draft that says what the ledger says, or that nobody can read, is none', () => {
  localStorage.setItem('draft/form/a', JSON.stringify({ version: 1, text: 'as it came' }));
  localStorage.setItem('draft/form/b', '{"version":1,');
  localStorage.setItem('draft/form/c', JSON.stringify({ version: 1, text: 'other' }));
  expect(writtenBefore('a', first)).toBeUndefined();
  expect(writtenBefore('b', first)).toBeUndefined();
  expect(writtenBefore('c', first)).toEqual({ version: 1, text: 'other' });
  expect(writtenBefore('none', first)).toBeUndefined();
});
