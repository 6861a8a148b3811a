/** A box to tick: it shows what was meant at once, and what is kept again as soon as that has been settled. */
import { type ReactNode, useState } from 'react';

type Props = {
  checked: boolean;
  /** Whether what was meant is still being kept. */
  busy: boolean;
  onTick: (checked: boolean) => void;
  children: ReactNode;
};

export function Tick({ checked, busy, onTick, children }: Props) {
  const [meant, setMeant] = useState<boolean | null>(null);
  // what is meant holds from the click until its keeping has begun and ended
  const [begun, setBegun] = useState(false);
  if (meant !== null && busy !== begun) {
    setBegun(busy);
    if (!busy) setMeant(null);
  }
  return (
    <label className="flex items-baseline gap-1.5">
      <input
        type="checkbox"
        checked={meant ?? checked}
        onChange={(e) => {
          setMeant(e.target.checked);
          setBegun(busy);
          onTick(e.target.checked);
        }}
      />
      {children}
    </label>
  );
}
