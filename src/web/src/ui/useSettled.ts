import { useEffect, useState } from 'react';

/** What a text was when the hand last rested: so many milliseconds without another letter. */
export function useSettled(text: string, rest: number): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), rest);
    return () => clearTimeout(timer);
  }, [text, rest]);
  return settled;
}
