/** Where the counts lie in the clip, and the feet by which they are moved. */
import type { useEdits } from '../api/edits';
import type { GridChange, RoutineView } from '../api/schema';
import { useDraft } from './drafts';
import type { Post } from './Wave';

/** Where the counts lie, and the feet by which they are moved: of the whole clip, or of the open row. */
export function useGrid(
  routine: RoutineView,
  edits: ReturnType<typeof useEdits>,
  open: RoutineView['rows'][number] | undefined,
) {
  const [pending, setPending] = useDraft(`juxtakine first ${routine.id}`);
  const { grid } = routine;
  const first =
    grid?.posts.find((p) => p.at === 0)?.seconds ??
    grid?.counts_s[0] ??
    (pending === null ? null : Number(pending));
  const onPlace = (change: GridChange) => edits.grid.mutate(change, { onSuccess: () => setPending(null) });
  // a tempo that was typed is kept as count 2, and has no post to drag
  const plain = grid && grid.posts.length === 2 && grid.posts[0]?.at === 0;
  const later = grid?.posts.find((p) => p.count > 2);
  const moveFirst = (first_s: number) => {
    if (!grid) setPending(String(first_s));
    else if (!plain) edits.anchor.mutate({ at: 0, seconds: first_s });
    else if (later) onPlace({ first_s, count: later.count, count_s: later.seconds });
    else onPlace({ first_s, bpm: grid.bpm });
  };
  const move = (at: number) => (seconds: number) =>
    at === 0 ? moveFirst(seconds) : edits.anchor.mutate({ at, seconds });
  const posts: Post[] = [];
  if (grid && open) {
    const anchored = new Set(grid.posts.map((p) => p.at));
    for (let k = 0; k <= open.counts; k++) {
      const at = open.start + k;
      const seconds = grid.counts_s[at];
      const name = k < open.counts ? String(k + 1) : '1';
      if (seconds !== undefined)
        posts.push({ name, label: `count ${at + 1}`, seconds, anchored: anchored.has(at), move: move(at) });
    }
  } else if (grid) {
    for (const p of grid.posts.filter((p) => p.at === 0 || p.count > 2))
      posts.push({
        name: `count ${p.count}`,
        label: `count ${p.count}`,
        seconds: p.seconds,
        anchored: true,
        move: move(p.at),
      });
  } else if (first !== null)
    posts.push({ name: 'count 1', label: 'count 1', seconds: first, anchored: true, move: moveFirst });
  return { first, moveFirst, posts, onPlace };
}
