import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Caret } from './Choose';

interface ActsProps {
  name: string;
  acts: readonly { words: string; act: () => void }[];
  className?: string;
}

/** Several things that can be done, under one button. */
export function Acts({ name, acts, className = '' }: ActsProps) {
  return (
    <Menu>
      <MenuButton className={`inline-flex cursor-pointer items-center gap-2 border border-rule-2 px-2 ${className}`}>
        {name} <Caret />
      </MenuButton>
      <MenuItems
        anchor={{ to: 'bottom start', gap: 2, padding: 8 }}
        modal={false}
        className="z-40 border border-rule-2 bg-sheet text-[15px] text-ink focus:outline-none"
      >
        {acts.map(({ words, act }) => (
          <MenuItem key={words}>
            <button
              type="button"
              className="flex min-h-[34px] w-full cursor-pointer items-center px-3 text-left data-focus:bg-rust-wash max-[899px]:min-h-[44px]"
              onClick={act}
            >
              {words}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
