import { useState } from 'react';

type Props = {
  label: string;
  value: string;
  className?: string;
  placeholder?: string;
  onKeep: (text: string) => void;
};

/** A line of text that is kept when it is left or on Enter; Escape brings back what was there. */
export function Field({ label, value, className = '', placeholder, onKeep }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    if (typed !== null && typed.trim() !== value) onKeep(typed.trim());
    setTyped(null);
  };
  return (
    <input
      aria-label={label}
      className={`min-w-0 py-0.5 ${className}`}
      placeholder={placeholder}
      spellCheck={false}
      autoComplete="off"
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') {
          e.currentTarget.value = value;
          setTyped(null);
          setTimeout(() => (document.activeElement as HTMLElement | null)?.blur());
        }
      }}
    />
  );
}
