/** A cue in a cell: on one line or two, and smaller where a word is too long for the cell. */

/** Pixels that a letter of a cue takes at full size. */
const LETTER = 6.3;
const SIZE = 12;
const LEAST = 8.5;

export type Wrapped = { lines: readonly string[]; size: number };

/** In `width` pixels, on `most` lines; what does not fit even when it is small is cut with a dot. */
export function wrapped(text: string, width: number, most: number): Wrapped {
  const lines = filled(text.split(' '), most, Math.max(2, Math.floor(width / LETTER)));
  const longest = Math.max(...lines.map((l) => l.length));
  const size = Math.max(LEAST, Math.min(SIZE, (SIZE * width) / (longest * LETTER)));
  const fits = Math.max(2, Math.floor((width / LETTER) * (SIZE / size) + 0.01));
  return { lines: lines.map((l) => (l.length > fits ? `${l.slice(0, fits - 1)}.` : l)), size };
}

/** Words on lines: as many to a line as fit, the rest on the last. */
function filled(words: readonly string[], most: number, fits: number): string[] {
  const lines: string[] = [];
  for (const word of words) {
    const last = lines.at(-1);
    if (last !== undefined && (last.length + 1 + word.length <= fits || lines.length === most))
      lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}
