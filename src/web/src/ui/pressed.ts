import type { KeyboardEvent } from 'react';

/** A part of a drawing that is pressed like a button, with the hand or by Enter and Space; nothing where it does nothing. */
export const pressed = (act: (() => void) | undefined, name: string) =>
  act && {
    role: 'button',
    tabIndex: 0,
    'aria-label': name,
    className: 'cursor-pointer',
    onClick: act,
    onKeyDown: onPress(act),
  };

/** Enter and Space, as a button answers to them. */
export const onPress = (act: () => void) => (event: KeyboardEvent) => {
  if (event.key === 'Enter' || event.key === ' ') {
    event.preventDefault();
    act();
  }
};
