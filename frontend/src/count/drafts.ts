/** What was typed and not kept yet stays in the browser over a reload. */
import { useCallback, useState } from 'react';

export function useDraft(key: string): [string | null, (text: string | null) => void] {
  const [state, setState] = useState({ key, text: localStorage.getItem(key) });
  if (state.key !== key) setState({ key, text: localStorage.getItem(key) });
  const set = useCallback(
    (text: string | null) => {
      if (text === null) localStorage.removeItem(key);
      else localStorage.setItem(key, text);
      setState({ key, text });
    },
    [key],
  );
  return [state.text, set];
}
