import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { editShop, getShop, type ShopView } from '../api/generated';
import { ask } from '../api/ledger';
import { Devices } from '../devices/Devices';
import { History } from '../history/History';
import { Backups } from '../keeping/Backups';
import { Frame } from '../ui/Frame';
import { fieldInError, KeptProblem, KeptWord } from '../ui/Kept';
import { Problem } from '../ui/Problem';
import { useKeeping } from '../ui/useKeeping';

const parts = [
  [
    'Dead is at most',
    [
      ['deadAc', 'AC'],
      ['deadDc', 'DC'],
    ],
  ],
  [
    'Not to be touched from',
    [
      ['acDry', 'AC, dry place'],
      ['dcDry', 'DC, dry place'],
      ['acWet', 'AC, wet place'],
      ['dcWet', 'DC, wet place'],
      ['acImmersed', 'AC, people immersed'],
      ['dcImmersed', 'DC, people immersed'],
    ],
  ],
] as const;

/** Up to which voltage the shop calls a conductor dead, and from which it may not be touched. */
export function ShopPage() {
  const shop = useQuery({ queryKey: ['shop'], queryFn: () => ask(getShop()), staleTime: 0 });
  return (
    <Frame title="The shop">
      {shop.data ? (
        <Form key={shop.data.version === 0 ? 'none' : 'some'} shop={shop.data} />
      ) : (
        <Problem error={shop.error} retry={() => void shop.refetch()} />
      )}
    </Frame>
  );
}

function Form({ shop }: { shop: ShopView }) {
  const { edit, write, keep, keepOver, settle, isChanged, isKeeping, isClash, error } = useKeeping(
    'shop',
    { version: shop.version, publicAddress: shop.publicAddress, meters: shop.meters, ...shop.limits },
    ({ version, publicAddress, meters, ...limits }, client) =>
      ask(editShop({ client, body: { version, limits, publicAddress, meters } })),
  );
  return (
    <div className="max-w-[1160px] min-[1000px]:grid min-[1000px]:grid-cols-[560px_1fr] min-[1000px]:gap-x-12">
      <div>
        <div className="flex items-baseline gap-4">
          <h2 className="title grow">Volts, by your local code</h2>
          <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
        </div>
        <p className="text-[14px] text-ink-2">
          What may be touched is not what is dead: a connected battery is live. The ledger takes lower limits than{' '}
          {shop.most.deadAc} V AC and {shop.most.deadDc} V DC for dead, {shop.most.acDry} and {shop.most.dcDry} V for
          touch, never higher ones. Between the two a reading is not explained.
        </p>
        {parts.map(([title, fields]) => (
          <fieldset key={title} className="mt-3">
            <legend className="font-bold">{title}</legend>
            <div className="grid grid-cols-2 gap-3">
              {fields.map(([name, label]) => (
                <label key={name}>
                  {label}, volts
                  <input
                    className="field font-mono"
                    inputMode="decimal"
                    aria-invalid={fieldInError(error) === name}
                    defaultValue={edit[name]}
                    onChange={(event) => write({ ...edit, [name]: Number(event.target.value.replace(',', '.')) || 0 })}
                    onBlur={() => isChanged && !isClash && void keep(edit)}
                  />
                </label>
              ))}
            </div>
          </fieldset>
        ))}
        <h2 className="title mt-6">Meters of the shop</h2>
        <p className="text-[14px] text-ink-2">
          Each by its name, and a line each of what its data sheet says; an empty line before the next. A verdict then
          counts what the meter can know. Without one of its own the shop has four of no maker:{' '}
          {shop.presetMeters
            .split(/\n\s*\n/)
            .map((m) => m.split('\n')[0])
            .join(', ')}
          .
        </p>
        <textarea
          aria-label="Meters of the shop"
          className="field mt-1 font-mono text-[14px]"
          rows={Math.min(24, edit.meters.split('\n').length + 2)}
          spellCheck={false}
          aria-invalid={fieldInError(error) === 'meters'}
          value={edit.meters}
          onChange={(event) => write({ ...edit, meters: event.target.value })}
          onBlur={() => isChanged && !isClash && void keep(edit)}
        />
        {fieldInError(error) === 'meters' && <Problem error={error} />}
        <p className="mt-1 flex flex-wrap gap-x-4 text-[14px]">
          Begin from
          {shop.presetMeters.split(/\n\s*\n/).map((text) => (
            <button
              key={text}
              type="button"
              className="link"
              onClick={() =>
                write({
                  ...edit,
                  meters: `${edit.meters.trim()}\n\nMy ${text.charAt(0).toLowerCase()}${text.slice(1)}\n`.trimStart(),
                })
              }
            >
              {text.split('\n')[0]}
            </button>
          ))}
        </p>
      </div>
      <div>
        <h2 className="title max-[999px]:mt-5">Codes on doors</h2>
        <label className="mt-1 block">
          The address under which a phone finds this ledger
          <input
            className="field mt-0.5 font-mono"
            inputMode="url"
            autoCapitalize="off"
            placeholder={shop.operatorsAddress || 'such as https://ledger.example'}
            aria-invalid={fieldInError(error) === 'publicAddress'}
            defaultValue={edit.publicAddress}
            onChange={(event) => write({ ...edit, publicAddress: event.target.value.trim() })}
            onBlur={() => isChanged && !isClash && void keep(edit)}
          />
        </label>
        <p className="text-[14px] text-ink-2">
          It stands in the codes on labels, and the ledger answers to its name at once. Open it on a phone before many
          labels are printed.{' '}
          <Link className="link" to="/labels">
            Labels
          </Link>
        </p>
        <KeptProblem
          error={fieldInError(error) === 'meters' ? null : error}
          edit={edit}
          keepMine={(version) => void keepOver(edit, version)}
          takeTheirs={settle}
        />
        <Devices />
        <Backups />
        <History kind="Shop" recordId="shop" onPutBack={() => window.location.reload()} />
      </div>
    </div>
  );
}
