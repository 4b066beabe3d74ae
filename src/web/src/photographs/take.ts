import type { PhotographKind } from '../api/generated';
import { newId } from '../api/newId';
import { post } from '../outbox/outbox';

export const kindWords: Record<PhotographKind, string> = {
  plate: 'plate',
  board: 'board',
  screen: 'screen',
  other: 'other',
};

interface Taken {
  machineId: string;
  tag: string;
  kind: PhotographKind;
  personId: string;
  visitId?: string | undefined;
  positionId?: string | undefined;
  snapshotId?: string | undefined;
  /** What it answers or shows, in words. */
  caption?: string;
}

/** A burst of photographs: each on the device at once, then sent one after the other. Gives their ids. */
export function take(files: Iterable<File>, about: Taken): string[] {
  return Array.from(files, (file) => {
    const id = newId();
    const query = new URLSearchParams({
      id,
      machineId: about.machineId,
      kind: about.kind,
      personId: about.personId,
      takenAt: new Date(file.lastModified || Date.now()).toISOString(),
    });
    for (const name of ['visitId', 'positionId', 'snapshotId', 'caption'] as const) {
      const value = about[name];
      if (value) {
        query.set(name, value);
      }
    }
    void post({
      id,
      path: `/api/photographs?${query}`,
      words: `photograph of ${about.tag}, ${kindWords[about.kind]}`,
      machineId: about.machineId,
      picture: file,
    });
    return id;
  });
}
