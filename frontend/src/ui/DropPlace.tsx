/** Where a clip is dropped or chosen. */
import { type DragEvent, type RefObject, useRef, useState } from 'react';

type OnFile = (file: File) => void;
type Props = { title: string; note: string; act: string; main?: boolean; onFile: OnFile };

export function DropPlace({ title, note, act, main = true, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const { over, drop } = useDrop(onFile);
  return (
    <section
      aria-label={title}
      className={`rounded-[3px] border border-dashed border-ink/60 px-5 py-10 ${over ? 'bg-wash' : ''}`}
      {...drop}
    >
      <h2>{title}</h2>
      <p className="pb-3 pt-1 text-soft">{note}</p>
      <button type="button" className={main ? 'main' : 'act'} onClick={() => input.current?.click()}>
        {act}
        <kbd>N</kbd>
      </button>
      <ClipInput ref={input} label={act} byKey onFile={onFile} />
    </section>
  );
}

/** The same as one act. */
export function DropAct({ text, short, onFile }: { text: string; short: string; onFile: OnFile }) {
  const input = useRef<HTMLInputElement>(null);
  const { over, drop } = useDrop(onFile);
  return (
    <>
      <button
        type="button"
        className={`act ${over ? 'bg-wash' : ''}`}
        onClick={() => input.current?.click()}
        {...drop}
      >
        <span className="phone:hidden">{text}</span>
        <span className="hidden phone:inline">{short}</span>
        <kbd>N</kbd>
      </button>
      <ClipInput ref={input} label={short} byKey onFile={onFile} />
    </>
  );
}

type InputProps = { ref: RefObject<HTMLInputElement | null>; label: string; byKey?: boolean; onFile: OnFile };

/** The browser's own chooser, opened by something else; `byKey`: also by the key for "choose a clip". */
export const ClipInput = ({ ref, label, byKey, onFile }: InputProps) => (
  <input
    ref={ref}
    type="file"
    accept="video/*,.mkv,.avi"
    className="hidden"
    aria-label={label}
    data-file={byKey || undefined}
    onChange={(e) => {
      const file = e.target.files?.[0];
      // so that the same file can be chosen again
      e.target.value = '';
      if (file) onFile(file);
    }}
  />
);

/** The key for "choose a clip" does what the place's own button does. */
export const chooseFile = () => document.querySelector<HTMLInputElement>('input[data-file]')?.click();

function useDrop(onFile: OnFile) {
  const [over, setOver] = useState(false);
  const drop = {
    onDragOver: (event: DragEvent) => {
      event.preventDefault();
      setOver(true);
    },
    onDragLeave: () => setOver(false),
    onDrop: (event: DragEvent) => {
      event.preventDefault();
      setOver(false);
      const file = event.dataTransfer.files[0];
      if (file) onFile(file);
    },
  };
  return { over, drop };
}
