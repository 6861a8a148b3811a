import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';

type Props = { title: string; children: ReactNode; act?: string; onAct?: () => void; onClose: () => void };

/** A question before something that can't be undone, or a page to read. */
export function Ask({ title, children, act, onAct, onClose }: Props) {
  return (
    <Dialog open onClose={onClose} className="relative z-20">
      <div className="fixed inset-0 bg-ink/40" />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="max-h-full w-full max-w-lg overflow-auto rounded-[3px] border border-edge bg-ground p-6">
          <DialogTitle className="pb-3 text-lg font-bold">{title}</DialogTitle>
          {children}
          <div className="flex gap-6 pt-5">
            {act && (
              <button type="button" className="main" onClick={onAct}>
                {act}
              </button>
            )}
            <button type="button" className={act ? 'act' : 'main'} onClick={onClose}>
              {act ? 'Keep it' : 'Close'}
              <kbd>Esc</kbd>
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
