import { useSyncExternalStore } from 'react';

const wide = matchMedia('(min-width: 900px)');

const subscribe = (changed: () => void) => {
  wide.addEventListener('change', changed);
  return () => wide.removeEventListener('change', changed);
};

/** Whether margin, page and leaf stand beside each other; on a phone they stand below each other. */
export const useWide = (): boolean => useSyncExternalStore(subscribe, () => wide.matches);
