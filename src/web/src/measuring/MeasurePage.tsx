import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { openFault, type PinOnMap, type RoundView } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { useFacing } from '../boards/facing';
import { useBoardMap } from '../boards/useBoardMap';
import { usePerson } from '../people/person';
import { SafeBand } from '../safety/SafeBand';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';
import { isTyping, useKeys } from '../ui/useKeys';
import { useDraft } from '../ui/useDraft';
import { useLate } from '../ui/useLate';
import { useStart } from '../visits/start';
import { AllTheSame } from './AllTheSame';
import { AskLive } from './AskLive';
import { BeforeLine, useBefore } from './Before';
import { Choice, Entry, EntryKeys } from './Entry';
import { Clip } from './Clip';
import { placesFor, withClip } from './clip';
import { ExtraList } from './ExtraList';
import { ExtraReading } from './ExtraReading';
import { Leads, LeadsKept, useLeads } from './Leads';
import { MeasureLeaf } from './MeasureLeaf';
import { MeasureMargin } from './MeasureMargin';
import { LineVoltage, MeterChoice, useLineVoltage } from './MeterInHand';
import { NothingLeft } from './NothingLeft';
import { NumberPad } from './NumberPad';
import { PathLine, PathWords } from './PathLine';
import { Probe } from './Probe';
import { SheetTable } from './SheetTable';
import { TwinChoice, useTwin } from './Twin';
import { ToChange, WhenDone } from './ToChange';
import { Told } from './Told';
import { useWaitingLines } from './lines';
import { marksOn } from './sheet';
import { useMarginTold } from './useMarginTold';
import { useMeasuring } from './useMeasuring';
import { onlyThese, RoundOn, useProposed } from './proposed';
import { usePath, useWeighedPath } from './usePath';
import { useRound } from './useRound';

/** The page is laid out once, with the visit's steps; a ledger that is slow to tell them holds it up no longer than this, in ms. */
const stepsWithin = 1000;

export function MeasurePage() {
  const { roundId = '' } = useParams();
  const on = useProposed().join('\n');
  const round = useRound(roundId);
  const start = useStart(round.data?.visitId);
  const late = useLate(stepsWithin);
  if (!round.data || (start.isPending && !late && start.fetchStatus === 'fetching')) {
    return (
      <Frame title="Measure" probing>
        {round.isPending || round.data ? (
          <p className="py-6 text-ink-2">Laying out the sheet…</p>
        ) : (
          <Problem error={round.error} retry={() => void round.refetch()} />
        )}
      </Frame>
    );
  }
  return <Measuring key={`${roundId}\n${on}`} view={round.data} on={on} />;
}

function Measuring({ view: asOnSheet, on }: { view: RoundView; on: string }) {
  const [clip, setClip] = useDraft(`clip/${asOnSheet.id}`);
  const [asksClip, setAsksClip] = useState(false);
  const view = useMemo(() => onlyThese(withClip(asOnSheet, clip), on ? on.split('\n') : []), [asOnSheet, clip, on]);
  const isRoundOn = view.rows.length < asOnSheet.rows.length;
  const twin = useTwin(view.id, view.taken);
  const person = usePerson();
  const waiting = useWaitingLines();
  const queries = useQueryClient();
  const start = useStart(view.visitId);
  const go = useNavigate();
  const why = useRef<HTMLButtonElement>(null);
  const [extra, setExtra] = useState<false | 'any' | 'leg'>(false);
  const field = useRef<HTMLInputElement>(null);
  const here = useMeasuring(view, waiting, person?.id ?? '', field, isRoundOn);
  const { row, lines, interrupted, reason, meanwhile } = here;
  const read = usePath(view, row);
  const weighed = useWeighedPath(view.visitId, read, row);
  // Where the readings alone say something else than all that is known, that stands.
  const path = weighed && !weighed.agrees ? weighed : read;
  const onBoard = row?.red?.position ?? undefined;
  const facing = useFacing(view.machineId, onBoard);
  const map = useBoardMap(view.machineId, onBoard, facing.facing);
  const pin = map.data?.pins.find((p) => p.id === row?.red?.pin && map.data.positionId === onBoard);
  const asksReason = reason.isNeeded && !reason.is;
  const leads = useLeads(view, row);
  const category = useLineVoltage(view, row);
  const asksCategory = category.isAsked && !asksReason && !interrupted;
  const asksLeads = leads.isAsked && !asksReason && !interrupted;
  // A card stands where the reading would, and its keys are its own.
  const isAsking = (asksReason && !interrupted) || asksCategory || asksLeads;
  const before = useBefore(view.id, view.taken);

  const write = useMutation({
    mutationFn: () =>
      ask(
        openFault({
          body: { id: newId(), machineId: null, roundId: view.id, noticed: '', personId: person?.id ?? '' },
        }),
      ),
    onSuccess: async (fault) => {
      await queries.invalidateQueries({ queryKey: ['machine'] });
      await go(`/faults/${fault.id}`);
    },
  });

  useMarginTold(asOnSheet, start.data);

  const press = (key: string) => {
    if (key === '?') {
      why.current?.click();
      return true;
    }
    return here.press(key);
  };

  useKeys((key, event) => {
    if (key === 'F4' || (key === 'F9' && view.otherLeg)) {
      setExtra(key === 'F4' ? 'any' : 'leg');
      return true;
    }
    if (key === 'F8') {
      write.mutate();
      return true;
    }
    if (key === 'F7' && row?.energised) {
      meanwhile.next();
      return true;
    }
    if (key === 'F6' || (key === 'Escape' && asksClip)) {
      setAsksClip(!asksClip);
      return true;
    }
    // Wherever the hand was last, what belongs to a reading goes to the reading.
    if (extra || asksReason || isAsking || asksClip || isTyping(event.target) || !/^[\d.,+\-*/?]$/.test(key)) {
      return false;
    }
    field.current?.focus();
    if (!press(key)) {
      here.setTyped(here.typed + key);
    }
    return true;
  });

  const moveTo = (key: string | null) => {
    if (why.current?.ariaExpanded === 'true') {
      why.current.click();
    }
    here.moveTo(key);
  };

  const pick = (picked: PinOnMap) => {
    const at = lines.filter((l) => l.row.red?.pin === picked.id && l.row.red.position === onBoard);
    moveTo((at.find((l) => !l.row.reading) ?? at[0])?.row.key ?? here.cursor);
  };

  const marks = marksOn(lines, onBoard);

  return (
    <Frame
      tag={view.tag}
      title={view.machineName}
      place={view.site}
      probing
      band={start.data && <SafeBand start={start.data} />}
      aside={
        <span className="flex items-center gap-4 min-[900px]:hidden">
          <span className="text-on-iron-2">
            Measure {view.taken} of {view.rows.length}
          </span>
          <button type="button" className="min-h-[44px] px-1 underline" onClick={() => setExtra('any')}>
            Extra
          </button>
          <button type="button" className="min-h-[44px] px-1 underline" onClick={() => write.mutate()}>
            Write up
          </button>
        </span>
      }
      margin={
        <MeasureMargin view={asOnSheet} start={start.data} extra={() => setExtra('any')} writeUp={() => write.mutate()}>
          <MeterChoice done={() => setTimeout(() => field.current?.focus())} />
          <TwinChoice {...twin} />
          <LeadsKept view={view} personId={person?.id ?? ''} {...leads} />
        </MeasureMargin>
      }
      leaf={
        <MeasureLeaf row={row} map={map} facing={facing} marks={marks} onPick={pick}>
          <ExtraList view={view} waiting={waiting.filter((w) => w.roundId === view.id && w.line.checkKey === null)} />
        </MeasureLeaf>
      }
    >
      <div className="max-[899px]:pb-[300px] min-[900px]:flex min-[900px]:min-h-full min-[900px]:flex-col">
        {isRoundOn && <RoundOn view={view} />}
        <Told view={view} row={row} path={path} why={why} moveTo={moveTo} readLeg={() => setExtra('leg')} />
        {extra && person ? (
          <ExtraReading
            view={view}
            current={row}
            personId={person.id}
            probes={extra === 'leg' ? (view.otherLeg ?? undefined) : undefined}
            close={(next) => {
              setExtra(false);
              if (next) {
                here.setTyped(here.typed + next);
              }
            }}
          />
        ) : row ? (
          <>
            <Probe
              row={row}
              visitId={view.visitId}
              words={pin?.words}
              landmarks={pin?.landmarks}
              isProvedDead={view.condition === 'provedDead'}
              before={<BeforeLine before={before.get(row.key)} row={row} />}
              clip={
                <Clip
                  key={row.key}
                  places={placesFor(view, row.black)}
                  clip={placesFor(view, row.black).some((p) => p.printed === clip) ? clip : ''}
                  isAsked={asksClip}
                  ask={(asked) => {
                    setAsksClip(asked);
                    if (!asked) {
                      setTimeout(() => field.current?.focus());
                    }
                  }}
                  set={setClip}
                />
              }
            />
            {interrupted && <ToChange changes={here.changes} done={here.ready} />}
            {reason.isNeeded && !interrupted && reason.is && (
              <p className="text-[14px] text-out">
                Not proved dead, measured all the same: {reason.is}.{' '}
                <button
                  type="button"
                  className="link min-h-[32px] max-[899px]:min-h-[44px]"
                  onClick={() => reason.say('')}
                >
                  Change
                </button>
              </p>
            )}
            {row.energised && view.condition === 'provedDead' && (
              <p className="py-1 font-semibold text-marginal">
                It is proved dead, and this is read live.{' '}
                <Link className="link" to={`/visits/${view.visitId}/safe`}>
                  Go live again
                </Link>
              </p>
            )}
            {!interrupted && asksReason && <AllTheSame key={row.key} view={view} say={reason.say} />}
            {asksCategory && <LineVoltage key={row.key} asks={category} />}
            {asksLeads && (
              <Leads
                view={view}
                row={row}
                personId={person?.id ?? ''}
                field={field}
                leave={leads.leave}
                done={() => setTimeout(() => field.current?.focus())}
              />
            )}
            {!interrupted && !isAsking && (
              <Entry
                typed={here.typed}
                setTyped={here.setTyped}
                press={press}
                row={row}
                field={field}
                invalid={here.error !== null}
              />
            )}
            {meanwhile.isAsked && !interrupted && !isAsking && meanwhile.line}
            {interrupted && <WhenDone field={field} press={press} />}
            <AskLive error={here.error} answer={here.answerLive} mistyped={here.mistyped} />
            <Choice error={here.error} choose={here.choose} />
            <EntryKeys row={row} skip={here.skip} shows={meanwhile.isAsked ? undefined : meanwhile.next} />
          </>
        ) : (
          <NothingLeft view={view} isRoundOn={isRoundOn} />
        )}
        <Problem error={write.error} />
        {path && (
          <section aria-label="Power path" className="border-t border-rule-2 pt-1 pb-1">
            {path.state !== row?.state && <p className="text-[14px] text-ink-2">Power path, {path.stateName}</p>}
            <PathLine path={weighed ?? path} here={row?.red?.printed} onPick={moveTo} />
            <PathWords path={path} />
          </section>
        )}
        {row && !extra && (
          <EntryKeys thumb row={row} skip={here.skip} shows={meanwhile.isAsked ? undefined : meanwhile.next} />
        )}
        <SheetTable
          lines={lines}
          current={here.cursor}
          onPick={moveTo}
          before={before}
          twin={twin.readings && { tag: twin.tag, readings: twin.readings }}
        />
      </div>
      {row && !extra && !isAsking && (
        <NumberPad row={row} storeWord={interrupted ? 'Done' : 'Store'} press={here.pressPad} write={here.write} />
      )}
    </Frame>
  );
}
