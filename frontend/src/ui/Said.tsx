import type { ReactNode } from 'react';

/** What went wrong, what was kept, what to do: a sentence with a rule at its side, read aloud when it comes. */
export const Trouble = ({ children }: { children: ReactNode }) => (
  <div role="alert" className="border-l-4 border-ink bg-wash px-3 py-2">
    {children}
  </div>
);

/** The same over everything, for as long as nothing answers. */
export const Away = ({ children }: { children: ReactNode }) => (
  <div role="alert" className="fixed inset-x-0 bottom-0 z-20 border-t-4 border-ink bg-wash px-6 py-3">
    {children}
  </div>
);

export const Waiting = ({ children }: { children: ReactNode }) => (
  <p role="status" className="p-6 text-soft">
    {children}
  </p>
);
