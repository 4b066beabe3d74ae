import { afterEach, expect, test } from 'vitest';
import { createElement } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { act } from 'react';
import { isTyping, useKeys } from './useKeys';

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });
let root: Root | undefined;

function page(inner: string, isQuestion = false): string[] {
  const heard: string[] = [];
  function Page() {
    useKeys((key) => {
      heard.push(key);
      return key === 'y';
    }, isQuestion);
    return createElement('div', { dangerouslySetInnerHTML: { __html: inner } });
  }
  const place = document.createElement('div');
  document.body.append(place);
  root = createRoot(place);
  act(() => root?.render(createElement(Page)));
  return heard;
}

const press = (at: string, key: string, more: KeyboardEventInit = {}) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more });
  document.querySelector(at)?.dispatchEvent(event);
  return event;
};

afterEach(() => {
  act(() => root?.unmount());
  document.body.replaceChildren();
});

const fields = `<button id="button">x</button><input id="field"><input id="shown" readonly>
  <textarea id="text"></textarea><button id="chooser" aria-haspopup="listbox">x</button>
  <header><input id="find"></header><div role="grid"><span id="cell"></span></div>`;

test('a sign is the page’s wherever the hand is, unless a field has it', () => {
  const heard = page(fields);
  for (const at of ['body', '#button', '#shown']) {
    expect(press(at, 'y').defaultPrevented).toBe(true);
  }
  for (const at of ['#field', '#text', '#chooser', '#find', '#cell']) {
    expect(press(at, 'y').defaultPrevented).toBe(false);
  }
  expect(heard).toEqual(['y', 'y', 'y']);
  expect(press('#button', 'q').defaultPrevented).toBe(false);
});

test('function keys and Alt with a letter are the page’s in a field too; Ctrl stays the browser’s', () => {
  const heard = page(fields);
  press('#field', 'F4');
  press('#field', 'å', { altKey: true, code: 'KeyA' });
  press('body', 'y', { ctrlKey: true });
  expect(heard).toEqual(['F4', 'Alt A']);
});

test('a question takes its sign out of the field of the reading, and leaves the find box, a text and an open list', () => {
  const heard = page(`${fields}<div role="listbox"><span id="option"></span></div>`, true);
  expect(press('#field', 'y').defaultPrevented).toBe(true);
  for (const at of ['#find', '#text', '#option']) {
    expect(press(at, 'y').defaultPrevented).toBe(false);
  }
  expect(heard).toEqual(['y']);
});

test('nothing has a sign where nothing has the focus', () => expect(isTyping(document.body)).toBe(false));
