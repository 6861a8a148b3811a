import { useCallback, useRef, useState } from 'react';
import type { Uploaded } from './schema';
import { type Sending, send } from './upload';

export type Upload = {
  file: string | null;
  share: number;
  error: string | null;
  begin: (to: string, file: File) => void;
  stop: () => void;
};

/** One clip being sent; leaving the page would break it off, so the browser asks first. */
export function useUpload(done?: (made: Uploaded) => void): Upload {
  const [state, setState] = useState<{ file: string | null; share: number; error: string | null }>({
    file: null,
    share: 0,
    error: null,
  });
  const sending = useRef<Sending | null>(null);
  const begin = useCallback(
    (to: string, file: File) => {
      const ask = (event: BeforeUnloadEvent) => event.preventDefault();
      window.addEventListener('beforeunload', ask);
      setState({ file: file.name, share: 0, error: null });
      sending.current = send(to, file, (share) => setState({ file: file.name, share, error: null }));
      sending.current.answer
        .then((made) => {
          setState({ file: null, share: 0, error: null });
          done?.(made);
        })
        .catch((refused: Error) => setState({ file: null, share: 0, error: refused.message }))
        .finally(() => window.removeEventListener('beforeunload', ask));
    },
    [done],
  );
  return { ...state, begin, stop: () => sending.current?.stop() };
}
