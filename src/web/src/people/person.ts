import { useSyncExternalStore } from 'react';

/** Who uses this device: a name chosen once. */
export interface Person {
  id: string;
  name: string;
}

const listeners = new Set<() => void>();
let known: Person | null = read();

function read(): Person | null {
  const [id, name] = [localStorage.getItem('person-id'), localStorage.getItem('person-name')];
  return id && name ? { id, name } : null;
}

export function choosePerson(person: Person): void {
  localStorage.setItem('person-id', person.id);
  localStorage.setItem('person-name', person.name);
  known = person;
  listeners.forEach((tell) => tell());
}

export function usePerson(): Person | null {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => known,
  );
}

/** The meter in hand, as its owner calls it; empty where nobody said. */
export const meterName = (): string => localStorage.getItem('meter') ?? '';

export function nameMeter(name: string): void {
  localStorage.setItem('meter', name.trim().slice(0, 60));
  listeners.forEach((tell) => tell());
}

/** The same, as it changes. */
export function useMeterName(): string {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, meterName);
}
