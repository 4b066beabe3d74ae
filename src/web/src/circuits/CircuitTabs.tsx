import type { ReactNode } from 'react';
import type { CircuitPageView, MachinePage } from '../api/generated';
import { Tabs } from '../ui/Tabs';

export const circuitTabs = ['reads', 'proves', 'parts'] as const;
export type CircuitTab = (typeof circuitTabs)[number];

/** What each view of a circuit is given. */
export interface CircuitViewProps {
  tag: string;
  machine: MachinePage;
  circuit: CircuitPageView;
  tab: CircuitTab;
  show: (tab: CircuitTab) => void;
  margin: ReactNode;
}

export function CircuitTabs({ tab, show }: { tab: CircuitTab; show: (tab: CircuitTab) => void }) {
  return (
    <Tabs
      name="Circuit"
      value={tab}
      tabs={[
        ['reads', 'What it reads'],
        ['proves', 'What proves what'],
        ['parts', 'What it is made of'],
      ]}
      onChange={show}
      className="border-b border-rule-2"
    />
  );
}
