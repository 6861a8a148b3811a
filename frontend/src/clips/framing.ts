/** How a clip's picture lies in its pane. */
import type { FrameForm } from '../api/schema';

export type Size = { width: number; height: number };

/** Pixels of the pane for one of the picture at most: beyond that there is nothing more to see. */
const LARGEST = 2;

export const WHOLE: FrameForm = { left: 0, top: 0, right: 1, bottom: 1 };

/** As large as the part that is asked for is wholly seen, and that in the middle, as far as there is picture beside it.
 * In pixels of the pane. */
export function placed(pane: Size, picture: Size, part: FrameForm) {
  const fits = (seen: FrameForm) =>
    Math.min(
      pane.width / ((seen.right - seen.left) * picture.width),
      pane.height / ((seen.bottom - seen.top) * picture.height),
    );
  const scale = Math.max(fits(WHOLE), Math.min(fits(part), LARGEST));
  const [width, height] = [scale * picture.width, scale * picture.height];
  return {
    left: edge(pane.width, width, (part.left + part.right) / 2),
    top: edge(pane.height, height, (part.top + part.bottom) / 2),
    width,
    height,
  };
}

function edge(room: number, size: number, middle: number) {
  if (size <= room) return (room - size) / 2;
  return Math.min(0, Math.max(room - size, room / 2 - middle * size));
}
