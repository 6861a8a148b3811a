import { useEffect, useRef } from 'react';

/** Keys by their name, with "Shift+" before it where it is held. A handler that returns false lets the key pass. */
export type Keys = Record<string, () => unknown>;

/** Keys of a screen; they rest while somebody types or a dialog or list is open. */
export function useKeys(keys: Keys) {
  const now = useRef(keys);
  now.current = keys;
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || busy(event)) return;
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const handler = now.current[`${event.shiftKey && name !== '?' ? 'Shift+' : ''}${name}`];
      if (handler && handler() !== false) event.preventDefault();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, []);
}

function busy(event: KeyboardEvent) {
  const on = event.target as HTMLElement;
  if (
    document.querySelector('[role=dialog],[role=listbox]') ||
    on.closest('input:not([type=checkbox]),textarea')
  )
    return true;
  // Space and Enter belong to the button that has the focus, unless it is a cell of the sheet
  return [' ', 'Enter'].includes(event.key) && !!on.closest('button:not([data-cell]),a');
}
