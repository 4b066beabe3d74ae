import type { FunctionSheet, Rail } from '../api/generated';
import { Choose } from '../ui/Choose';
import type { useCells } from '../ui/useCells';
import { AddLine, isSameName, Name } from './lines';

interface RailsProps {
  sheet: FunctionSheet;
  settle: (sheet: FunctionSheet) => void;
}

const letter = (index: number) => String.fromCharCode(65 + index);

/** What nobody entered is none. */
export const railsOf = (sheet: FunctionSheet): readonly Rail[] => sheet.rails ?? [];

const railOf = (sheet: FunctionSheet, part: string) => railsOf(sheet).findIndex((r) => r.parts.includes(part));

/** The line of the table that says which parts are fed together. */
export function FedFrom({ sheet, settle, cell }: RailsProps & { cell: ReturnType<typeof useCells>['cell'] }) {
  const hang = (part: string) => {
    const to = railOf(sheet, part) + 1;
    settle({
      ...sheet,
      rails: railsOf(sheet).map((r, i) => ({
        ...r,
        parts: [...r.parts.filter((p) => p !== part), ...(i === to ? [part] : [])],
      })),
    });
  };
  return (
    <tr className="border-y border-rule-2">
      <th scope="row" colSpan={2} className="text-left font-normal text-ink-2">
        Hangs on rail
      </th>
      {sheet.parts.map((part, c) => {
        const on = railOf(sheet, part);
        const rail = railsOf(sheet)[on];
        return (
          <td key={part} className="text-center">
            <button
              type="button"
              {...cell(sheet.rows.length, c)}
              aria-label={`${part} hangs on ${rail ? rail.name : 'no rail that anybody named'}`}
              className="inline-flex h-[34px] w-[34px] cursor-pointer items-center justify-center font-bold hover:bg-rust-wash max-[899px]:h-[44px] max-[899px]:w-[44px]"
              onClick={() => hang(part)}
            >
              {rail ? letter(on) : <span className="text-idle">·</span>}
            </button>
          </td>
        );
      })}
    </tr>
  );
}

/** The rails by their names, with what feeds each. */
export function Rails({ draft, sheet, settle }: RailsProps & { draft: string }) {
  const change = (index: number, to: Partial<Rail> | undefined) =>
    settle({ ...sheet, rails: railsOf(sheet).flatMap((r, i) => (i !== index ? [r] : to ? [{ ...r, ...to }] : [])) });
  return (
    <section className="mt-4" aria-label="Rails">
      <h2 className="border-b border-rule-2 pb-1 text-[15px]">What is fed together</h2>
      <p className="mt-1 text-[14px] text-ink-2">
        Parts on one rail go down together when one of them is shorted or draws too much.
      </p>
      <ul>
        {railsOf(sheet).map((rail, i) => (
          <li key={rail.name} className="flex flex-wrap items-center gap-x-2 border-b border-rule py-1 [&>*]:shrink-0">
            <span className="w-[18px] font-bold">{letter(i)}</span>
            <Name
              draft={draft}
              label={`Rail ${rail.name}`}
              value={rail.name}
              className="w-[160px]"
              keep={(name) => {
                const isNew = railsOf(sheet).every((r, k) => k === i || !isSameName(r.name, name));
                if (isNew) {
                  change(i, name === '' ? undefined : { name });
                }
                return isNew;
              }}
            />
            <span className="text-ink-2">comes through</span>
            <Choose
              name={`What feeds ${rail.name}`}
              className="w-[170px]"
              value={rail.behind}
              options={[
                { value: '', words: 'nobody said' },
                ...sheet.parts.filter((p) => !rail.parts.includes(p)).map((p) => ({ value: p, words: p })),
              ]}
              onChange={(behind) => change(i, { behind })}
            />
            <span className="min-w-0 text-[14px]">
              {rail.parts.length > 0 ? `to ${rail.parts.join(', ')}` : 'nothing hangs on it yet'}
            </span>
          </li>
        ))}
      </ul>
      <div className="mt-2 min-[900px]:w-1/2">
        <AddLine
          name={`${draft}/rail`}
          label="One more rail"
          example="such as 5 V of the display"
          add={(name) => {
            const isNew = railsOf(sheet).every((r) => !isSameName(r.name, name));
            if (isNew) {
              settle({ ...sheet, rails: [...railsOf(sheet), { name, behind: '', parts: [] }] });
            }
            return isNew;
          }}
        />
      </div>
    </section>
  );
}
