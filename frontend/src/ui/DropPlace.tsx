import { type DragEvent, useRef, useState } from 'react';

type Props = { title: string; note: string; act: string; main?: boolean; onFile: (file: File) => void };

/** Where a clip is dropped or chosen. */
export function DropPlace({ title, note, act, main = true, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file) onFile(file);
  };
  return (
    <section
      aria-label={title}
      className={`rounded-[3px] border border-dashed border-ink/60 px-5 py-10 ${over ? 'bg-wash' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <h2>{title}</h2>
      <p className="pb-3 pt-1 text-soft">{note}</p>
      <button type="button" className={main ? 'main' : 'act'} onClick={() => input.current?.click()}>
        {act}
        <kbd>N</kbd>
      </button>
      <input
        ref={input}
        type="file"
        accept="video/*,.mkv,.avi"
        className="hidden"
        aria-label={act}
        data-file
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) onFile(file);
        }}
      />
    </section>
  );
}

/** The key for "choose a file" does what the place's own button does. */
export const chooseFile = () => document.querySelector<HTMLInputElement>('input[data-file]')?.click();
