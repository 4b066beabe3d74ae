import { Tab, TabGroup, TabList } from '@headlessui/react';
import type { ReactNode } from 'react';

interface TabsProps<T extends string> {
  /** What they choose between, for those who hear it. */
  name: string;
  value: T;
  tabs: readonly (readonly [value: T, words: ReactNode])[];
  onChange: (value: T) => void;
  className?: string;
}

/** Views of one thing, one of them shown below; arrows go from one to the next. */
export function Tabs<T extends string>({ name, value, tabs, onChange, className = '' }: TabsProps<T>) {
  const at = tabs.findIndex(([tab]) => tab === value);
  return (
    <TabGroup
      selectedIndex={Math.max(0, at)}
      onChange={(index) => {
        const tab = tabs[index];
        if (tab) {
          onChange(tab[0]);
        }
      }}
    >
      <TabList aria-label={name} className={`flex flex-wrap gap-x-5 ${className}`}>
        {tabs.map(([tab, words]) => (
          <Tab
            key={tab}
            className="min-h-[36px] cursor-pointer border-b-[3px] border-transparent text-ink-2 data-selected:border-rust data-selected:font-bold data-selected:text-ink max-[899px]:min-h-[44px]"
          >
            {words}
          </Tab>
        ))}
      </TabList>
    </TabGroup>
  );
}
