import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { keepCode, type BoardCodes, type CodeAsked, type CodeFit, type CodesFound } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { usePerson } from '../people/person';
import { TakeButton } from '../photographs/TakeButton';
import { take } from '../photographs/take';
import { Mark } from '../ui/Mark';
import { More } from '../ui/More';
import { Problem } from '../ui/Problem';

export function Fits({ codes, asked, found }: { codes: BoardCodes; asked: CodeAsked; found: CodesFound }) {
  const exact = found.fits.filter((f) => f.isExact);
  const near = found.fits.filter((f) => !f.isExact);
  return (
    <>
      <h2 className="title">
        {exact.length === 0
          ? 'No code in the list looks so'
          : exact.length === 1
            ? 'It is this one'
            : `${exact.length} codes look so`}
      </h2>
      {exact.map((fit) => (
        <Fit key={fit.code.id} codes={codes} asked={asked} fit={fit} />
      ))}
      {near.length > 0 && (
        <More
          // Where none fits, those that nearly do are what there is to see.
          key={String(exact.length === 0)}
          isOpen={exact.length === 0}
          className="mt-2"
          title={
            <span className="link text-[14px]">
              {near.length === 1 ? '1 nearly fits' : `${near.length} nearly fit`}
            </span>
          }
        >
          {near.map((fit) => (
            <Fit key={fit.code.id} codes={codes} asked={asked} fit={fit} />
          ))}
        </More>
      )}
      {exact.length === 0 && <Keep codes={codes} asked={asked} fit={null} words={found.seen} />}
    </>
  );
}

function Fit({ codes, asked, fit }: { codes: BoardCodes; asked: CodeAsked; fit: CodeFit }) {
  return (
    <article className="mt-2 border-b border-rule-2 pb-2" aria-label={fit.code.words ?? ''}>
      <h3 className="flex flex-wrap items-baseline gap-3">
        <span className={`font-mono leading-tight ${fit.code.kind === 'display' ? 'text-[30px]' : 'text-[17px]'}`}>
          {fit.code.words}
        </span>
        <span className="text-[20px] leading-tight">
          {fit.code.meaning}
          {fit.value && (
            <>
              {' '}
              <span className="font-mono">{fit.value.words}</span>
            </>
          )}
        </span>
      </h3>
      {fit.code.pointsTo && (
        <p>
          Points to <b>{fit.code.pointsTo}</b>
        </p>
      )}
      {fit.code.toDo && <p>{fit.code.toDo}</p>}
      <p className="text-[14px] text-ink-2">
        <Mark kind={fit.isExact ? 'within' : 'marginal'} /> {fit.isExact ? 'fits' : 'nearly fits'}: {fit.why}
      </p>
      <Keep codes={codes} asked={asked} fit={fit} words={fit.code.words ?? ''} />
    </article>
  );
}

/** Keeps what was seen in the open visit: with its number, or, where nobody knows it, with its picture. */
function Keep({
  codes,
  asked,
  fit,
  words,
}: {
  codes: BoardCodes;
  asked: CodeAsked;
  fit: CodeFit | null;
  words: string;
}) {
  const person = usePerson();
  const queries = useQueryClient();
  const [lines, setLines] = useState<string[] | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const [photographId, setPhotographId] = useState<string | null>(null);
  const keep = async (picture: string | null) => {
    try {
      setError(null);
      const answer = await ask(
        keepCode({
          path: { machineId: codes.machineId, positionId: codes.positionId },
          body: {
            id: newId(),
            visitId: codes.visitId ?? '',
            codeId: fit?.code.id ?? null,
            asked,
            photographId: picture,
            storesNumber: fit?.value !== null && fit?.value !== undefined,
            at: new Date().toISOString(),
            personId: person?.id ?? '',
          },
        }),
      );
      setLines(answer.lines);
      await queries.invalidateQueries({ queryKey: ['start'] });
      await queries.invalidateQueries({ queryKey: ['machine'] });
    } catch (failure) {
      setError(failure as Error);
    }
  };
  if (!codes.visitId) {
    return (
      <p className="text-[14px] text-ink-2">
        No visit is open, so nothing is kept.{' '}
        <Link className="link" to={`/machines/${encodeURIComponent(codes.tag)}`}>
          Start one on the page of {codes.tag}
        </Link>
      </p>
    );
  }
  if (lines) {
    return (
      <ul className="mt-1" aria-label="Kept">
        {lines.map((line) => (
          <li key={line} className="flex gap-2">
            <span className="pt-0.5">
              <Mark kind="within" />
            </span>
            kept: {line}
          </li>
        ))}
      </ul>
    );
  }
  return (
    <>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <button type="button" className={fit ? 'quiet min-h-[44px]' : 'action'} onClick={() => void keep(photographId)}>
          {fit?.value
            ? `Keep it, and ${fit.value.number.name} ${fit.value.words}`
            : fit
              ? 'Keep it in the visit'
              : `Keep it as not known: ${words}`}
        </button>
        {!fit && (
          <TakeButton
            label="Photograph of the code"
            onTake={(files) => {
              const [id] = take(files.slice(0, 1), {
                machineId: codes.machineId,
                tag: codes.tag,
                kind: 'screen',
                personId: person?.id ?? '',
                visitId: codes.visitId ?? undefined,
                positionId: codes.positionId,
              });
              setPhotographId(id ?? null);
            }}
          >
            {photographId ? 'Photograph taken' : 'With a photograph'}
          </TakeButton>
        )}
      </p>
      <Problem error={error} />
    </>
  );
}
