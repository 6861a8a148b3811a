/** What changes a routine’s sheet and grid. */
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type Refusal, server, value } from './client';
import { refresh, routine } from './queries';
import type {
  BeatsChosen,
  GridChange,
  Imported,
  PieceSaid,
  Renumber,
  RoutineView,
  SheetForm,
  Taps,
  TapsTold,
  Uploaded,
} from './schema';

/** Edits of a routine's sheet and grid, one after the other; each answers with the routine as it is then. */
export function useEdits(id: number) {
  const queries = useQueryClient();
  const onSuccess = async (now: RoutineView) => {
    // what was asked before this edit would bring the sheet back as it was
    await queries.cancelQueries({ queryKey: ['routine', id] });
    queries.setQueryData(['routine', id], now);
    for (const queryKey of [['progress', id], ['result'], ['home'], ['shown', id], ['proposal', id]])
      queries.invalidateQueries({ queryKey });
  };
  const at = routine(id);
  const sheet = useMutation<RoutineView, Refusal, SheetForm>({
    mutationFn: (body) => value(server.PUT('/api/routines/{routine_id}/sheet', { ...at, body })),
    scope: { id: `sheet ${id}` },
    onSuccess,
  });
  const grid = useMutation<RoutineView, Refusal, GridChange>({
    mutationFn: (body) => value(server.PUT('/api/routines/{routine_id}/grid', { ...at, body })),
    onSuccess,
  });
  const anchor = useMutation<RoutineView, Refusal, { at: number; seconds: number | null }>({
    mutationFn: ({ at: count, seconds }) =>
      seconds === null
        ? value(
            server.DELETE('/api/routines/{routine_id}/grid/anchors', {
              params: { path: { routine_id: id }, query: { at: count } },
            }),
          )
        : value(
            server.PUT('/api/routines/{routine_id}/grid/anchors', { ...at, body: { at: count, seconds } }),
          ),
    onSuccess,
  });
  const beats = useMutation<RoutineView, Refusal, BeatsChosen>({
    mutationFn: (body) => value(server.POST('/api/routines/{routine_id}/grid/beats', { ...at, body })),
    onSuccess,
  });
  const taps = useMutation<TapsTold, Refusal, Taps>({
    mutationFn: (body) => value(server.POST('/api/routines/{routine_id}/grid/taps', { ...at, body })),
    onSuccess: (told) => onSuccess(told.routine),
  });
  const renumber = useMutation<RoutineView, Refusal, Renumber>({
    mutationFn: (body) => value(server.POST('/api/routines/{routine_id}/renumber', { ...at, body })),
    onSuccess,
  });
  const paste = useMutation<Imported, Refusal, string>({
    mutationFn: (text) => value(server.POST('/api/routines/{routine_id}/paste', { ...at, body: { text } })),
    onSuccess: (told) => onSuccess(told.routine),
  });
  /** Order and walls from a sentence. */
  const structure = useMutation<Imported, Refusal, string>({
    mutationFn: (text) =>
      value(server.POST('/api/routines/{routine_id}/structure', { ...at, body: { text } })),
    onSuccess: (told) => onSuccess(told.routine),
  });
  const takeIn = useMutation<Imported, Refusal, File>({
    mutationFn: (file) =>
      value(
        server.POST('/api/routines/{routine_id}/import', {
          params: { path: { routine_id: id }, query: { name: file.name } },
          body: file as unknown as string,
          bodySerializer: (body) => body,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      ),
    onSuccess: (told) => onSuccess(told.routine),
  });
  const step = useMutation<RoutineView, Refusal, 'undo' | 'redo'>({
    mutationFn: (way) => value(server.POST(`/api/routines/{routine_id}/${way}`, at)),
    // what is being kept comes first: else its undoing would undo the edit before
    scope: { id: `sheet ${id}` },
    onSuccess,
  });
  /** Rows as they are proposed; none for all of them. */
  const propose = useMutation<RoutineView, Refusal, readonly number[]>({
    mutationFn: (rows) =>
      value(server.POST('/api/routines/{routine_id}/proposal', { ...at, body: { rows: [...rows] } })),
    scope: { id: `sheet ${id}` },
    onSuccess,
  });
  const piece = useMutation<RoutineView, Refusal, { row: number; piece: PieceSaid | null }>({
    mutationFn: ({ row, piece: body }) => {
      const params = { path: { routine_id: id, row } };
      return body
        ? value(server.PUT('/api/routines/{routine_id}/pieces/{row}', { params, body }))
        : value(server.DELETE('/api/routines/{routine_id}/pieces/{row}', { params }));
    },
    onSuccess,
  });
  const assemble = useMutation<Uploaded, Refusal>({
    mutationFn: () => value(server.POST('/api/routines/{routine_id}/assemble', at)),
    onSuccess: () => refresh(queries, id),
  });
  /** The sheet as the server last told it: what a component holds may be a drawing older. */
  const kept = () => queries.getQueryData<RoutineView>(['routine', id])?.sheet;
  return {
    kept,
    sheet,
    grid,
    anchor,
    beats,
    taps,
    renumber,
    paste,
    structure,
    takeIn,
    step,
    propose,
    piece,
    assemble,
  };
}
