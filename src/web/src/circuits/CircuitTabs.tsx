import { Tabs } from '../ui/Tabs';
import type { CircuitTab } from './CircuitPage';

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
