import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { leaveOut, type Parcel, sendAgain, useOutbox } from './outbox';

/** Everything made on this device that the ledger does not have yet. */
export function WaitingPage() {
  const parcels = useOutbox();
  return (
    <Frame title="On this device">
      <div className="mx-auto max-w-[720px] py-4">
        <h2 className="title">Waits on this device</h2>
        {parcels.length === 0 && (
          <p className="mt-3">
            Nothing waits; the ledger has everything.{' '}
            <Link to="/" className="link">
              Home
            </Link>
          </p>
        )}
        <ul className="mt-4">
          {parcels.map((parcel) => (
            <li key={parcel.id} className="flex flex-wrap items-center gap-3 border-b border-rule py-2">
              {parcel.picture && <Preview picture={parcel.picture} words={parcel.words} className="h-[60px]" />}
              <span className="min-w-0 grow">
                {parcel.words}
                <span className={`flex items-center gap-1.5 text-[14px] ${parcel.refused ? 'text-out' : 'text-ink-2'}`}>
                  <Mark kind={parcel.refused ? 'dead' : 'untouched'} />
                  {parcel.refused ? `refused: ${parcel.refused}` : 'waits for the ledger'}
                </span>
              </span>
              {parcel.refused && <Refused parcel={parcel} />}
            </li>
          ))}
        </ul>
      </div>
    </Frame>
  );
}

function Refused({ parcel }: { parcel: Parcel }) {
  return (
    <>
      <button type="button" className="quiet" onClick={() => void sendAgain(parcel.id)}>
        Send again
      </button>
      <button type="button" className="quiet" onClick={() => void leaveOut(parcel.id)}>
        Leave it out
      </button>
    </>
  );
}

/** A picture that is still only on this device. */
export function Preview({ picture, words, className }: { picture: Blob; words: string; className?: string }) {
  const [address, setAddress] = useState<string>();
  useEffect(() => {
    const made = URL.createObjectURL(picture);
    // eslint-disable-next-line react-hooks/set-state-in-effect -- the address lives exactly as long as the effect
    setAddress(made);
    return () => URL.revokeObjectURL(made);
  }, [picture]);
  return address ? <img src={address} alt={words} className={className} /> : null;
}
