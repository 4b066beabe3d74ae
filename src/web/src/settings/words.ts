import type { SnapshotKind } from '../api/generated';

export const snapshotWords: Record<SnapshotKind, string> = { asFound: 'as found', asLeft: 'as left', other: 'noted' };
