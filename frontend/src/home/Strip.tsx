import { Link } from 'react-router';
import type { RoutineCard } from '../api/schema';
import { many } from '../ui/format';
import { Tally } from '../ui/Tally';

/** Counts that fill the sheet's width. */
const WIDE = 96;

/** A routine as one line of the sheet: a cell for each row, as wide as its counts. */
export function Strip({ card, main, onForget }: { card: RoutineCard; main: boolean; onForget: () => void }) {
  const to = `/routines/${card.id}`;
  const unit = 448 / Math.max(WIDE / 2, Math.min(WIDE, card.counts));
  return (
    <section aria-label={card.title} className="grid gap-x-4 gap-y-2 pb-8 bench:grid-cols-[88px_448px_1fr]">
      <div>
        <Link to={`${to}/compare`} className="font-[650] hover:underline">
          {card.title}
        </Link>
        <p className="text-[13px] text-soft">
          {many(card.counts, 'count')}
          {card.bpm !== null && `, ${card.bpm} a minute`}
        </p>
      </div>
      <ol className="flex flex-wrap gap-y-1">
        {card.rows.map((row) => (
          <li key={row.number}>
            <Link
              to={`${to}/${card.danced ? 'compare' : 'count'}?row=${row.number}&count=1`}
              title={row.name}
              aria-label={`row ${row.number}, ${row.name || 'no name'}: ${row.kind || 'not danced yet'}`}
              className={`-ml-px block h-14 overflow-hidden border px-1 text-[12.5px] text-soft hover:z-[1] hover:outline-[1.4px] hover:outline-dashed ${card.danced ? 'border-edge bg-paper' : 'border-hair'}`}
              style={{ width: row.counts * unit + 1 }}
            >
              {row.number}
              {row.tallies > 0 && <Tally n={row.tallies} />}
            </Link>
          </li>
        ))}
        {!card.rows.length && (
          <li className="h-14 w-full border border-dotted border-edge p-2 text-[13px] text-soft">
            not counted yet
          </li>
        )}
      </ol>
      <div className="text-sm">
        <p className="pb-2">{card.said}</p>
        <p className="flex flex-wrap items-baseline gap-x-5 gap-y-2">
          <Link to={`${to}/${card.screen}`} className={main ? 'main' : 'act'}>
            {card.act}
          </Link>
          <button type="button" className="act text-soft" onClick={onForget}>
            Delete
          </button>
        </p>
      </div>
    </section>
  );
}
