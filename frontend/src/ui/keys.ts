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
    // before the controls hear of it, so that Space plays also after a choice was made
    window.addEventListener('keydown', pressed, true);
    return () => window.removeEventListener('keydown', pressed, true);
  }, []);
}

function busy({ key, target }: KeyboardEvent) {
  const on = target as HTMLElement;
  if (document.querySelector('[role=dialog],[role=listbox]')) return true;
  if (on.closest('input:not([type=range],[type=file]),textarea')) return true;
  if (key.startsWith('Arrow') && on.closest('[role=radio],[role=slider],[role=tab],[type=range]'))
    return true;
  // Space and Enter belong to what has the focus, unless it is a cell of the sheet or a choice that is made
  return (
    [' ', 'Enter'].includes(key) && !!on.closest('button:not([data-cell]),a,[role=radio][aria-checked=false]')
  );
}
