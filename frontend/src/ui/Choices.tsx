import { Radio, RadioGroup } from '@headlessui/react';

type Props<T> = {
  label: string;
  value: T;
  options: readonly { value: T; text: string }[];
  onChange: (v: T) => void;
};

/** One of a few: the chosen one is boxed, the others ruled. */
export function Choices<T extends string | number | boolean>({ label, value, options, onChange }: Props<T>) {
  return (
    <RadioGroup
      value={value}
      onChange={onChange}
      aria-label={label}
      className="flex flex-wrap items-baseline gap-2.5 text-sm"
    >
      <span className="text-soft">{label}</span>
      {options.map((o) => (
        <Radio key={String(o.value)} value={o.value} className="choice">
          {o.text}
        </Radio>
      ))}
    </RadioGroup>
  );
}
