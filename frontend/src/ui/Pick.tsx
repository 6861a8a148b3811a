import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';

type Props<T> = {
  label: string;
  value: T;
  options: readonly { value: T; text: string }[];
  onChange: (value: T) => void;
};

/** One of many, in a list that opens. */
export function Pick<T extends string | number | null>({ label, value, options, onChange }: Props<T>) {
  const chosen = options.find((o) => o.value === value) ?? options[0];
  return (
    <Listbox value={value} onChange={onChange}>
      <ListboxButton className="act mx-0 min-w-14 text-left" aria-label={label}>
        {chosen?.text}
      </ListboxButton>
      <ListboxOptions
        anchor="bottom start"
        className="z-20 mt-1 max-h-80 rounded-[3px] border border-edge bg-ground py-1 outline-none"
      >
        {options.map((o) => (
          <ListboxOption
            key={String(o.value)}
            value={o.value}
            className="cursor-pointer px-4 py-1 data-focus:bg-wash data-selected:font-bold"
          >
            {o.text}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
