import { useLayoutEffect, useRef } from 'react';

/** Whether letters and digits belong to what has the focus: a text field, a chooser, an open list. */
export const isTyping = (at: EventTarget | null): boolean =>
  at instanceof Element &&
  at.closest(
    'input:not([readonly], [type=radio], [type=checkbox]), textarea, [aria-haspopup=listbox], [role=listbox], [role=grid]',
  ) !== null;

/** A tick and a choice take the space bar alone. */
const isTicked = (at: EventTarget | null): boolean => at instanceof HTMLInputElement;

/** Where even a question leaves the keys alone: the find box, a long text, an open list. */
const keepsItsKeys = (at: EventTarget | null): boolean =>
  at instanceof Element && at.closest('header, textarea, [role=listbox]') !== null;

/**
 * Keys of a page, wherever the hand is. A sign such as `y` or `3` is left to a text field that has the focus; `F4` and
 * `Alt R` are the page's everywhere. Ctrl and the like stay the browser's.
 *
 * @param press True where the key did something.
 * @param isQuestion It is asked here and now, over what is typed: the field of the reading does not keep the sign.
 */
export function useKeys(press: (key: string, event: KeyboardEvent) => boolean, isQuestion = false): void {
  const now = useRef(press);
  // Before it is painted: a key that is shown works.
  useLayoutEffect(() => {
    now.current = press;
  });
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const isSign = event.key.length === 1 || event.key === 'Backspace';
      const keeps = isQuestion ? keepsItsKeys : isTyping;
      if (
        event.defaultPrevented ||
        event.ctrlKey ||
        event.metaKey ||
        (isSign && !event.altKey && (keeps(event.target) || (event.key === ' ' && isTicked(event.target))))
      ) {
        return;
      }
      // By the key's place, since Alt with a letter writes a sign of its own on some keyboards.
      const key = event.altKey ? `Alt ${event.code.replace(/^Key/, '')}` : event.key;
      if (now.current(key, event)) {
        event.preventDefault();
        if (isQuestion) {
          event.stopPropagation();
        }
      }
    };
    window.addEventListener('keydown', onKey, isQuestion);
    return () => window.removeEventListener('keydown', onKey, isQuestion);
  }, [isQuestion]);
}
