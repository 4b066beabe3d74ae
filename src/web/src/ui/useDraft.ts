import { useState } from 'react';

const prefix = 'draft/';

/** What was written under a name and not stored yet; undefined where nothing was. */
export const draftOf = (name: string): string | undefined => localStorage.getItem(prefix + name) ?? undefined;

/** Keeps a text on this device until it is stored; an empty one is let go. */
export function keepDraft(name: string, text: string): void {
  if (text === '') {
    localStorage.removeItem(prefix + name);
  } else {
    localStorage.setItem(prefix + name, text);
  }
}

/** The names of all that was begun on this device and not stored. */
export const draftNames = (): string[] =>
  Object.keys(localStorage)
    .filter((key) => key.startsWith(prefix))
    .map((key) => key.slice(prefix.length))
    .sort();

/**
 * A text being written: there again after a reload, a failed send or leaving the page, until it is set to nothing.
 *
 * @param name What it is and whose, such as `complaint/ly-04`; another name is another text.
 */
export function useDraft(name: string, initial = ''): [string, (text: string) => void] {
  const [written, setWritten] = useState<{ name: string; text: string } | null>(null);
  return [
    written?.name === name ? written.text : (draftOf(name) ?? initial),
    (text: string) => {
      keepDraft(name, text === initial ? '' : text);
      setWritten({ name, text });
    },
  ];
}

/** Whether something was begun under a name and not stored: its form is open again. */
export const isBegun = (name: string): boolean => draftOf(name) !== undefined;

/** Several texts being written together, as {@link useDraft} keeps one; set to what they began with they are let go. */
export function useWritten<T extends object>(name: string, initial: T): [T, (next: T) => void] {
  const begun = JSON.stringify(initial);
  const [text, setText] = useDraft(name, begun);
  return [{ ...initial, ...(JSON.parse(text) as Partial<T>) }, (next: T) => setText(JSON.stringify(next))];
}

/** A field that is emptied as its line is sent; a refused line goes back into it unless the next is being typed there. */
export function useLine(name: string) {
  const [text, setText] = useDraft(name);
  return {
    text,
    setText,
    takeBack: (line: string): boolean => {
      if (isBegun(name)) {
        return false;
      }
      setText(line);
      return true;
    },
  };
}
