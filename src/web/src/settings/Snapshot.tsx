import { useMutation, useQueryClient } from '@tanstack/react-query';
import {
  retireValue,
  type BoardSettings,
  type MachineSettings,
  type SnapshotView,
  type ValueView,
} from '../api/generated';
import { ask } from '../api/ledger';
import { History } from '../history/History';
import { usePerson } from '../people/person';
import { TakeButton } from '../photographs/TakeButton';
import { take } from '../photographs/take';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { clockOf, dayOf } from '../ui/time';
import { Compared } from './Compared';
import { TakeList } from './TakeList';
import { TypeIn } from './TypeIn';
import { snapshotWords } from './words';

interface SnapshotProps {
  snapshot: SnapshotView;
  board: BoardSettings;
  settings: MachineSettings;
}

export function Snapshot({ snapshot, board, settings }: SnapshotProps) {
  const person = usePerson();
  return (
    <section aria-label="Snapshot" className="pt-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <h3 className="grow text-[17px]">
          {snapshotWords[snapshot.kind]}, {dayOf(snapshot.takenAt)} {clockOf(snapshot.takenAt)}{' '}
          <span className="text-[14px] font-normal text-ink-2">by {snapshot.person}</span>
        </h3>
        <TakeButton
          label="Screen"
          onTake={(files) =>
            void take(files, {
              machineId: settings.machineId,
              tag: settings.tag,
              kind: 'screen',
              personId: person?.id ?? '',
              positionId: board.positionId,
              snapshotId: snapshot.id,
            })
          }
        >
          Photograph the screen
        </TakeButton>
        <a
          className="link inline-flex min-h-[32px] items-center text-[14px] max-[899px]:min-h-[44px]"
          href={`/api/snapshots/${snapshot.id}/settings.csv`}
          download
        >
          To a spreadsheet
        </a>
      </div>
      <div className="flex flex-col gap-6 min-[1000px]:flex-row">
        <div className="min-w-0 grow">
          <TypeIn snapshot={snapshot} definitions={board.definitions} />
          <Values snapshot={snapshot} />
          <TakeList snapshotId={snapshot.id} />
          <History kind="Snapshot" recordId={snapshot.id} within />
        </div>
        <div className="min-w-0 min-[1000px]:w-[440px]">
          {snapshot.photographHash && (
            <img
              src={`/api/pictures/${snapshot.photographHash}`}
              alt="the screen"
              className="mb-3 max-h-[240px] border border-rule-2"
            />
          )}
          <Compared snapshot={snapshot} board={board} settings={settings} />
        </div>
      </div>
    </section>
  );
}

function Values({ snapshot }: { snapshot: SnapshotView }) {
  const queries = useQueryClient();
  const away = useMutation({
    mutationFn: (value: ValueView) => ask(retireValue({ path: { id: snapshot.id, code: value.code } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['settings'] }),
  });
  if (snapshot.values.length === 0) {
    return (
      <p className="py-2 text-ink-2">
        Nothing typed yet. Code, <Key>Enter</Key>, value, <Key>Enter</Key>.
      </p>
    );
  }
  return (
    <table className="mt-2 w-full border-collapse">
      <caption className="sr-only">Settings</caption>
      <thead>
        <tr className="text-left text-[14px] text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
          <th scope="col">Code</th>
          <th scope="col">Name</th>
          <th scope="col" className="text-right">
            Value
          </th>
          <th scope="col">Doubt</th>
          <th scope="col">
            <span className="sr-only">Take away</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {snapshot.values.map((v) => (
          <tr key={v.code} className="border-t border-rule [&>td]:py-0.5 [&>td]:pr-3">
            <td className="font-mono font-bold">{v.code}</td>
            <td>{v.name || <span className="text-ink-2">not defined</span>}</td>
            <td className={`text-right font-mono font-bold ${v.doubt ? 'text-out' : ''}`}>
              {v.value} <span className="font-normal text-ink-2">{v.unit}</span>
            </td>
            <td className="text-[14px] text-out">
              {v.doubt && (
                <span className="inline-flex items-center gap-1.5">
                  <Mark kind="differs" /> {v.doubt}, kept
                </span>
              )}
            </td>
            <td className="text-right">
              <button
                type="button"
                className="link min-h-[30px] text-[14px] max-[899px]:min-h-[44px]"
                aria-label={`Take ${v.code} away`}
                onClick={() => away.mutate(v)}
              >
                away
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
