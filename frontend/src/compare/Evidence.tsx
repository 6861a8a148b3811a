/** What the chosen count shows, in words, the surest and largest first. */
import type { CountWords } from '../api/schema';

export function Evidence({ words }: { words: CountWords | undefined }) {
  if (!words) return <p className="text-soft">Choose a count on the sheet: both clips go there.</p>;
  const off = words.remarks.some((r) => r.off);
  return (
    <section aria-label="Evidence" aria-live="polite">
      <h3 className="phone:hidden">{off ? 'What was off' : 'What was seen'}</h3>
      <ul className="text-[14.5px]">
        {words.remarks.map((r) => (
          <li
            key={r.text}
            className={`flex gap-2 py-[3px] phone:block phone:py-0 ${r.off ? 'font-[650]' : 'text-soft'}`}
          >
            <span>{r.text}</span>
            <span className="ml-auto whitespace-nowrap font-[450] text-soft phone:ml-2">{r.note}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
