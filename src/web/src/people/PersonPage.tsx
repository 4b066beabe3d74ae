import { useMutation, useQuery } from '@tanstack/react-query';
import { useLocation, useNavigate } from 'react-router';
import { addPerson, listPeople } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';
import { choosePerson, meterName, nameMeter, type Person } from './person';

/** Asked once per device, so that every reading and edit has a name to it. */
export function PersonPage() {
  const people = useQuery({ queryKey: ['people'], queryFn: () => ask(listPeople()) });
  const [name, setName] = useDraft('person-name');
  const go = useNavigate();
  const from = (useLocation().state as { from?: string } | null)?.from ?? '/';
  const choose = (person: Person) => {
    choosePerson(person);
    void go(from);
  };
  const add = useMutation({
    mutationFn: () => ask(addPerson({ body: { id: newId(), name } })),
    onSuccess: (person) => {
      setName('');
      choose(person);
    },
  });
  return (
    <Frame title="Who is it?">
      <div className="mx-auto max-w-[520px] py-6">
        <h2 className="title">Who is holding this device?</h2>
        <p className="mt-1 text-ink-2">Each reading is kept with the name of who took it. Asked once per device.</p>
        <ul className="mt-5 border-t border-rule-2">
          {people.data?.map((person) => (
            <li key={person.id} className="border-b border-rule">
              <button
                type="button"
                className="min-h-[44px] w-full cursor-pointer px-2 text-left text-[17px] hover:bg-rust-wash"
                onClick={() => choose(person)}
              >
                {person.name}
              </button>
            </li>
          ))}
        </ul>
        <Problem error={people.error} retry={() => void people.refetch()} />
        <form
          className="mt-5 flex items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) {
              add.mutate();
            }
          }}
        >
          <label className="grow">
            Another name
            <input autoFocus className="field mt-1" value={name} onChange={(event) => setName(event.target.value)} />
          </label>
          <button type="submit" className="action">
            That is me
          </button>
        </form>
        <Problem error={add.error} />
        <label className="mt-6 block">
          The meter in hand <span className="text-ink-2">goes with each reading; may be left open</span>
          <input
            className="field mt-1"
            defaultValue={meterName()}
            onChange={(event) => nameMeter(event.target.value)}
          />
        </label>
      </div>
    </Frame>
  );
}
