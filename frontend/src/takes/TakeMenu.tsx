import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import type { ClipView } from '../api/schema';
import { day } from '../ui/format';

/** Which take is looked at. */
export function TakeMenu({
  takes,
  take,
  onTake,
}: {
  takes: ClipView[];
  take: ClipView;
  onTake: (n: number) => void;
}) {
  return (
    <Listbox value={take.number} onChange={onTake}>
      <ListboxButton className="act mx-0 text-ink" aria-label="which take">
        <b className="text-me">Take {take.number}</b> {day(take.made_at)}
      </ListboxButton>
      <ListboxOptions
        anchor="bottom start"
        className="z-20 mt-1 rounded-[3px] border border-edge bg-ground py-1 outline-none"
      >
        {takes.toReversed().map((t) => (
          <ListboxOption
            key={t.id}
            value={t.number}
            className="cursor-pointer px-4 py-1.5 data-focus:bg-wash data-selected:font-bold"
          >
            Take {t.number}, {day(t.made_at)} <span className="text-soft">{t.name}</span>
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
