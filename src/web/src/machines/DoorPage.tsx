import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { type DoorLamp, type DoorPage as Door, getDoor } from '../api/generated';
import { ask } from '../api/ledger';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { PlaceMargin } from './MachineMargin';

/** What the code on a machine's door opens: what is normal there, what its lamps tell, what its codes mean. */
export function DoorPage() {
  const { tag = '' } = useParams();
  const door = useQuery({ queryKey: ['door', tag], queryFn: () => ask(getDoor({ path: { id: tag } })) });
  if (!door.data) {
    return <OpeningPage tag={tag} title="At the door" words={`Opening what is known of ${tag}…`} of={[door]} />;
  }
  return <Loaded door={door.data} />;
}

function Loaded({ door }: { door: Door }) {
  const { normal, lamps, alarms } = door.card;
  const at = `/machines/${encodeURIComponent(door.tag)}`;
  return (
    <Frame
      tag={door.tag}
      title={door.name || 'not named yet'}
      place={door.site}
      margin={<PlaceMargin tag={door.tag} />}
      marginLast
      leafName="Its lamps"
      leaf={<Lamps lamps={lamps} />}
    >
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-rule-2 pb-2">
        <h2 className="title grow">At the door of {door.tag}</h2>
        <Link to={door.visitId ? `/visits/${door.visitId}/arrive` : at} className="action inline-flex items-center">
          {door.visitId ? 'Go on with the visit' : 'Its page, and a visit'}
        </Link>
      </div>
      <section aria-labelledby="normal" className="mt-3">
        <h2 id="normal" className="border-b border-rule-2 pb-1">
          Normal here
        </h2>
        {normal.length === 0 && <p className="py-2 text-ink-2">Nothing is written yet that is odd here and normal.</p>}
        <ul>
          {normal.map((n) => (
            <li key={`${n.where} ${n.words}`} className="flex items-start gap-2 border-b border-rule py-1.5">
              <span className="pt-1">
                <Mark kind="within" />
              </span>
              <span>
                {n.words}
                <span className="block text-[14px] text-ink-2">{[n.where, n.why].filter(Boolean).join(': ')}</span>
              </span>
            </li>
          ))}
        </ul>
      </section>
      <section aria-labelledby="alarms" className="mt-5">
        <h2 id="alarms" className="border-b border-rule-2 pb-1">
          What it shows, blinks and beeps <span className="font-mono font-normal">{alarms.length}</span>
        </h2>
        {alarms.length === 0 ? (
          <p className="py-2 text-ink-2">No code of its boards is written yet.</p>
        ) : (
          <table className="w-full text-left max-[899px]:block">
            <thead className="text-[14px] text-ink-2 max-[899px]:hidden">
              <tr>
                <th className="py-1 font-normal">It says</th>
                <th className="font-normal">It means</th>
                <th className="font-normal">Look at</th>
                <th className="font-normal">Do</th>
              </tr>
            </thead>
            <tbody className="max-[899px]:block">
              {alarms.map((a) => (
                <tr
                  key={`${a.board} ${a.words} ${a.meaning}`}
                  className="border-t border-rule align-top max-[899px]:block max-[899px]:py-2"
                >
                  <th scope="row" className="py-1.5 pr-4 font-mono max-[899px]:block max-[899px]:py-0">
                    <Link className="link" to={`${at}/boards/${a.position}/codes`}>
                      {a.words}
                    </Link>
                    <span className="block font-sans text-[14px] font-normal text-ink-2">{a.board}</span>
                  </th>
                  <td className="py-1.5 pr-4 max-[899px]:block max-[899px]:py-0">
                    {a.meaning || <span className="text-ink-2">what it means is not written</span>}
                  </td>
                  <td className="py-1.5 pr-4 max-[899px]:block max-[899px]:py-0">{a.pointsTo}</td>
                  <td className="py-1.5 max-[899px]:block max-[899px]:py-0">{a.toDo}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
    </Frame>
  );
}

function Lamps({ lamps }: { lamps: DoorLamp[] }) {
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">
        Lamps <span className="font-mono font-normal">{lamps.length}</span>
      </h2>
      {lamps.length === 0 && <p className="py-2 text-ink-2">No lamp of its boards is entered yet.</p>}
      <ul>
        {lamps.map((lamp) => (
          <li key={`${lamp.position} ${lamp.designator}`} className="border-b border-rule py-1.5">
            <p className="flex items-baseline gap-2">
              <b className="font-mono">{lamp.designator}</b>
              <span className="grow">{[lamp.colour, lamp.purpose].filter(Boolean).join(', ')}</span>
              <span className="text-[14px] text-ink-2">{lamp.board}</span>
            </p>
            <dl className="grid grid-cols-[auto_1fr] gap-x-2 text-[14px]">
              {(
                [
                  ['on', lamp.steady],
                  ['blinks', lamp.blinking],
                  ['off', lamp.off],
                  ['proves', lamp.proves],
                  ['not', lamp.provesNot],
                ] as const
              )
                .filter(([, words]) => words)
                .map(([name, words]) => (
                  <div key={name} className="contents">
                    <dt className="text-ink-2">{name}</dt>
                    <dd>{words}</dd>
                  </div>
                ))}
            </dl>
          </li>
        ))}
      </ul>
    </>
  );
}
