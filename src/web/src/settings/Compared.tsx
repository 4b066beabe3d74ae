import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  compareSettings,
  type BoardSettings,
  type MachineSettings,
  type SettingPair,
  type SnapshotView,
} from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';
import { snapshotWords } from './words';

const changes: Record<SettingPair['change'], [MarkKind, string]> = {
  same: ['within', 'same'],
  changed: ['differs', 'differs'],
  onlyFirst: ['skipped', 'gone'],
  onlySecond: ['here', 'new'],
};

interface ComparedProps {
  snapshot: SnapshotView;
  board: BoardSettings;
  settings: MachineSettings;
}

/** The snapshot beside another one, the maker's default, or a twin's. */
export function Compared({ snapshot, board, settings }: ComparedProps) {
  const others = [
    ...board.snapshots
      .filter((s) => s.id !== snapshot.id)
      .map((s) => ({ id: s.id, words: `${snapshotWords[s.kind]} ${dayOf(s.takenAt)}` })),
    ...settings.boards
      .filter((b) => b.boardTypeId === board.boardTypeId && b.fittedBoardId !== board.fittedBoardId)
      .flatMap((b) =>
        b.snapshots.map((s) => ({
          id: s.id,
          words: `${b.positionName} ${b.serial}, ${snapshotWords[s.kind]} ${dayOf(s.takenAt)}`,
        })),
      ),
    ...settings.twins
      .filter((t) => t.boardTypeId === board.boardTypeId)
      .map((t) => ({ id: t.id, words: `twin ${t.tag}, ${snapshotWords[t.kind]} ${dayOf(t.takenAt)}` })),
    ...(board.definitions.some((d) => d.default) ? [{ id: 'default', words: 'the default' }] : []),
  ];
  const [chosen, setChosen] = useState('');
  const [all, setAll] = useState(false);
  const first = others.some((o) => o.id === chosen) ? chosen : (others[0]?.id ?? '');
  const compared = useQuery({
    queryKey: ['settings', 'compare', first, snapshot.id, snapshot.values],
    queryFn: () => ask(compareSettings({ query: { first, second: snapshot.id } })),
    enabled: first !== '',
  });
  if (others.length === 0) {
    return <p className="text-[14px] text-ink-2">With a second snapshot, or defaults, both stand here side by side.</p>;
  }
  const pairs = compared.data?.pairs ?? [];
  const shown = all ? pairs : pairs.filter((p) => p.change !== 'same');
  return (
    <section aria-label="Compared" className="text-[14px]">
      <h3 className="flex flex-wrap items-center gap-2 border-b border-rule-2 pb-1 text-[15px]">
        Compared with
        <Choose
          name="Compared with"
          className="w-auto font-normal"
          value={first}
          options={others.map((o) => ({ value: o.id, words: o.words }))}
          onChange={setChosen}
        />
      </h3>
      <Problem error={compared.error} />
      {compared.data && (
        <>
          <p className="py-1">
            <b>
              {compared.data.changed === 0
                ? 'No value differs.'
                : compared.data.changed === 1
                  ? '1 value differs.'
                  : `${compared.data.changed} values differ.`}
            </b>{' '}
            <button type="button" className="link min-h-[32px]" aria-pressed={all} onClick={() => setAll(!all)}>
              {all ? 'Only what differs' : `All ${pairs.length}`}
            </button>
          </p>
          {shown.length > 0 && (
            <table className="w-full border-collapse">
              <caption className="sr-only">
                {compared.data.first} beside {compared.data.second}
              </caption>
              <thead>
                <tr className="text-left text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
                  <th scope="col">Code</th>
                  <th scope="col" className="text-right">
                    {compared.data.first}
                  </th>
                  <th scope="col" className="text-right">
                    {compared.data.second}
                  </th>
                  <th scope="col">Is</th>
                </tr>
              </thead>
              <tbody>
                {shown.map((p) => (
                  <tr key={p.code} className="border-t border-rule [&>td]:py-1 [&>td]:pr-3">
                    <td>
                      <b className="font-mono">{p.code}</b> {p.name}
                    </td>
                    <td className="text-right font-mono">{p.first ?? '–'}</td>
                    <td className={`text-right font-mono font-bold ${p.change === 'changed' ? 'text-out' : ''}`}>
                      {p.second ?? '–'} <span className="font-normal text-ink-2">{p.unit}</span>
                    </td>
                    <td>
                      <span className="inline-flex items-center gap-1.5">
                        <Mark kind={changes[p.change][0]} /> {changes[p.change][1]}
                      </span>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
    </section>
  );
}
