import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { Help } from './Help';
import { useKeys } from './keys';

export type Tab = { to: string; name: string; on: boolean };
type Props = {
  title: string;
  context?: ReactNode;
  tabs?: readonly Tab[];
  left: ReactNode;
  sentence: ReactNode;
  aside?: ReactNode;
  card?: boolean;
  children: ReactNode;
};

/**
 * The one layout: header, what is beside the sheet, one sentence that says what to do, the sheet. On a phone the left
 * part comes first, or stands as a card at the foot (`card`).
 */
export function Page({ title, context, tabs = [], left, sentence, aside, card = false, children }: Props) {
  const [helping, setHelping] = useState(false);
  useKeys({ '?': () => setHelping(true) });
  return (
    <div className="min-h-dvh bench:grid bench:grid-cols-[456px_1fr] bench:grid-rows-[52px_1fr]">
      <header className="flex flex-wrap items-center gap-x-5 border-b border-hair px-4 bench:col-span-2 bench:px-6">
        {tabs.length > 0 && (
          <Link to="/" className="py-3 text-soft hover:text-ink">
            Juxtakine
          </Link>
        )}
        <h1 className="truncate text-lg font-[650]">{title}</h1>
        <div className="min-w-0 truncate text-soft">{context}</div>
        <nav className="ml-auto flex gap-0.5" aria-label="Screens">
          {tabs.map((t) => (
            <Link
              key={t.name}
              to={t.to}
              aria-current={t.on ? 'page' : undefined}
              className={`border-b-3 px-[11px] pb-3 pt-[15px] hover:border-edge hover:text-ink ${t.on ? 'border-ink font-[650]' : 'border-transparent text-soft'}`}
            >
              {t.name}
            </Link>
          ))}
          <button
            type="button"
            aria-label="Keys and help"
            onClick={() => setHelping(true)}
            className="cursor-pointer border-b-3 border-transparent px-[11px] pb-3 pt-[15px] text-soft hover:border-edge hover:text-ink"
          >
            ?
          </button>
        </nav>
      </header>
      <aside
        className={`flex min-w-0 flex-col gap-[11px] px-4 pt-4 bench:border-r bench:border-hair bench:pb-4 bench:pl-6 bench:pr-5 ${card ? 'phone:card' : ''}`}
      >
        {left}
      </aside>
      <main className={`min-w-0 px-4 pb-6 pt-3.5 bench:pl-5 bench:pr-6 ${card ? 'phone:pb-72' : ''}`}>
        <div className="flex flex-wrap items-baseline gap-x-4 pb-2.5 bench:h-9 bench:pb-0">
          <p className="text-lg">{sentence}</p>
          <span className="text-sm text-soft bench:ml-auto">{aside}</span>
        </div>
        {children}
      </main>
      {helping && <Help onClose={() => setHelping(false)} />}
    </div>
  );
}
