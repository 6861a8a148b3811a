import { Ask } from './Ask';

const KEYS: readonly [string, string][] = [
  ['1 to 9', 'that count of the chosen row'],
  ['up, down', 'the row before, the row after'],
  ['left, right', 'the next count or subdivision'],
  ['Shift and left, right', 'one video frame'],
  ['Space', 'play or stop'],
  ['H', 'count 1 is at the frame shown (Count; Compare, by hand)'],
  ['G', 'the other post is at the frame shown (Count)'],
  ['B', 'the chosen count is at the frame shown (Count)'],
  ['T', 'tap the counts along (Count)'],
  ['M', 'the music has a 1 on the chosen count (Count)'],
  ['E', 'type the chosen row (Count)'],
  ['L', 'the row’s layers, or its line (Count)'],
  ['S', 'the next subject beside the sheet (Count)'],
  ['F', 'leave the chosen count free (Count)'],
  ['A', 'add a row (Count)'],
  ['Z, Shift Z', 'undo, redo (Count; undo in Watch)'],
  ['W', 'write into the sheet what repeats (Watch)'],
  ['N', 'choose a clip'],
  ['B, E', 'the run begins, ends at the frame shown (Watch)'],
  ['Enter', 'take this run (Watch)'],
  ['A', 'keep this stretch beside the first clip (Watch)'],
  ['P', 'put a reference together row by row (Watch)'],
  ['F', 'follow somebody in the picture (Watch, Compare)'],
  ['M', 'the instructor is mirrored or not (Watch)'],
  ['X', 'the picture as in a mirror (Watch)'],
  ['L', 'loop the chosen row (Watch, Compare)'],
  ['[ and ]', 'loop from here, to here (Watch)'],
  ['A', 'you at the count, or where a part is judged (Compare)'],
  ['R', 'redrill the chosen row (Compare)'],
  ['V', 'the whole picture, or nearer'],
];

export const Help = ({ onClose }: { onClose: () => void }) => (
  <Ask title="Keys" onClose={onClose}>
    <dl className="grid grid-cols-[150px_1fr] gap-x-4 gap-y-1 text-[14.5px]">
      {KEYS.map(([key, does]) => (
        <div key={key} className="contents">
          <dt className="font-semibold">{key}</dt>
          <dd className="text-soft">{does}</dd>
        </div>
      ))}
    </dl>
    <p className="border-t border-hair pt-3 text-sm text-soft">
      How to read a cell: the thin line is the count, the thick mark is you; left of it is ahead, right of it
      behind. The bar under it is how much of the body was where it should be. Hatched: not seen. Dotted:
      free. Lines over the pictures: the part that was off, and in the instructor’s ink where it is meant to
      be. A part is judged where you arrive: there you are shown, and it says how much later than the count.
    </p>
  </Ask>
);
