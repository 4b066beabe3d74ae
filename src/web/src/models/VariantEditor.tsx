import type { ModelPage, Variant, VariantSheet } from '../api/generated';
import { newId } from '../api/newId';
import { One } from './VariantFields';

interface VariantEditorProps {
  model: ModelPage;
  sheet: VariantSheet;
  change: (sheet: VariantSheet) => void;
  settle: (sheet: VariantSheet) => void;
}

/** The builds of a model: when each applies, and all that follows from it. */
export function VariantEditor({ model, sheet, change, settle }: VariantEditorProps) {
  const put = (variant: Variant): VariantSheet => ({
    ...sheet,
    variants: sheet.variants.map((v) => (v.id === variant.id ? variant : v)),
  });
  return (
    <>
      {sheet.variants.map((v) => (
        <One
          key={v.id}
          model={model}
          variant={v}
          change={(next) => change(put(next))}
          settle={(next) => settle(put(next))}
          strike={() => settle({ ...sheet, variants: sheet.variants.filter((x) => x.id !== v.id) })}
        />
      ))}
      <p className="mt-2">
        <button
          type="button"
          className="quiet"
          onClick={() =>
            settle({
              ...sheet,
              variants: [
                ...sheet.variants,
                {
                  id: newId(),
                  name: `build ${sheet.variants.length + 1}`,
                  rules: [],
                  supply: '',
                  boards: [],
                  fuses: [],
                  switches: [],
                  settings: [],
                  protective: [],
                  overlay: [],
                  replacements: [],
                },
              ],
            })
          }
        >
          Add a build
        </button>
      </p>
      <div className="mt-2 grid gap-3 min-[700px]:grid-cols-3">
        <label className="text-[14px]">
          How its serial numbers carry the date
          <input
            className="field font-mono"
            placeholder="QP-{yy}{ww}-*"
            defaultValue={sheet.serialPattern}
            onBlur={(event) =>
              event.target.value !== sheet.serialPattern && settle({ ...sheet, serialPattern: event.target.value })
            }
          />
          <span className="text-ink-2">{'{yyyy} {yy} {ww} {mm} {letter}, # a digit, * anything'}</span>
        </label>
        <label className="text-[14px]">
          Letter A is the year
          <input
            className="field font-mono"
            inputMode="numeric"
            defaultValue={sheet.firstLetterYear}
            onBlur={(event) =>
              Number(event.target.value) !== sheet.firstLetterYear &&
              settle({ ...sheet, firstLetterYear: Number(event.target.value) || 2000 })
            }
          />
        </label>
        <label className="text-[14px]">
          Letters left out
          <input
            className="field font-mono"
            defaultValue={sheet.lettersLeftOut}
            onBlur={(event) =>
              event.target.value !== sheet.lettersLeftOut && settle({ ...sheet, lettersLeftOut: event.target.value })
            }
          />
        </label>
      </div>
    </>
  );
}
