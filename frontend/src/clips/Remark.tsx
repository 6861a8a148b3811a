import type { ClipView } from '../api/schema';
import { Trouble } from '../ui/Said';

/** What is missing of a clip: its own file, or stretches that are damaged. */
export const Remark = ({ clip }: { clip: ClipView }) =>
  clip.remark ? <Trouble>{clip.remark}</Trouble> : null;
