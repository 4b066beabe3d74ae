import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import type { ReactNode } from 'react';
import { Caret } from './Choose';

/** What is opened when it is wanted; what was typed in it stays when it is closed. */
export function More({
  title,
  className = '',
  isOpen = false,
  children,
}: {
  title: ReactNode;
  /** Whether it is open before anybody pressed it. */
  isOpen?: boolean;
  className?: string;
  children: ReactNode;
}) {
  return (
    <Disclosure as="div" className={className} defaultOpen={isOpen}>
      {({ open }) => (
        <>
          <DisclosureButton className="flex min-h-[34px] w-full cursor-pointer items-center gap-2 py-1 text-left max-[899px]:min-h-[44px]">
            <span className={`inline-flex shrink-0 ${open ? '' : '-rotate-90'}`}>
              <Caret />
            </span>
            <span>{title}</span>
          </DisclosureButton>
          <DisclosurePanel unmount={false}>{children}</DisclosurePanel>
        </>
      )}
    </Disclosure>
  );
}
