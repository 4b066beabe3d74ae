import { useEffect, useState } from 'react';

/** Whether so many milliseconds have passed since this was first shown. */
export function useLate(after: number): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), after);
    return () => clearTimeout(timer);
  }, [after]);
  return late;
}
