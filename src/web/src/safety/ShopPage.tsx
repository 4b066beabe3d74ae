import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { editShop, getShop, type ShopView } from '../api/generated';
import { ask } from '../api/ledger';
import { History } from '../history/History';
import { Frame } from '../ui/Frame';
import { fieldInError, KeptProblem, KeptWord } from '../ui/Kept';
import { Problem } from '../ui/Problem';
import { useKeeping } from '../ui/useKeeping';

const fields = [
  ['acDry', 'AC, dry place'],
  ['dcDry', 'DC, dry place'],
  ['acWet', 'AC, wet place'],
  ['dcWet', 'DC, wet place'],
] as const;

/** Below which voltage the shop calls a conductor dead. */
export function ShopPage() {
  const shop = useQuery({ queryKey: ['shop'], queryFn: () => ask(getShop()), staleTime: 0 });
  return (
    <Frame title="The shop’s limits">
      {shop.data ? (
        <Form key={shop.data.version === 0 ? 'none' : 'some'} shop={shop.data} />
      ) : (
        <Problem error={shop.error} retry={() => void shop.refetch()} />
      )}
    </Frame>
  );
}

function Form({ shop }: { shop: ShopView }) {
  const [edit, setEdit] = useState({ version: shop.version, ...shop.limits });
  const { keep, keepOver, settle, kept, isKeeping, isClash, error } = useKeeping(edit, ({ version, ...limits }) =>
    ask(editShop({ body: { version, limits } })),
  );
  const isChanged = JSON.stringify(edit) !== JSON.stringify({ ...kept, version: edit.version });
  return (
    <div className="max-w-[560px]">
      <div className="flex items-baseline gap-4">
        <h2 className="title grow">Dead is below</h2>
        <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
      </div>
      <p className="text-[14px] text-ink-2">
        Set under your local code. The ledger takes lower limits than {shop.most.acDry} V AC and {shop.most.dcDry} V DC,
        never higher ones; in a wet place at most {shop.most.acWet} and {shop.most.dcWet} V.
      </p>
      <div className="mt-3 grid grid-cols-2 gap-3">
        {fields.map(([name, label]) => (
          <label key={name}>
            {label}, volts
            <input
              className="field font-mono"
              inputMode="decimal"
              aria-invalid={fieldInError(error) === name}
              defaultValue={edit[name]}
              onChange={(event) => setEdit({ ...edit, [name]: Number(event.target.value.replace(',', '.')) || 0 })}
              onBlur={() => isChanged && !isClash && void keep(edit)}
            />
          </label>
        ))}
      </div>
      <KeptProblem
        error={error}
        edit={edit}
        keepMine={(version) => void keepOver(edit, version)}
        takeTheirs={(theirs) => {
          setEdit(theirs);
          settle(theirs);
        }}
      />
      <History kind="Shop" recordId="shop" onPutBack={() => window.location.reload()} />
    </div>
  );
}
