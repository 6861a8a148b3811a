/** What the screens read and change, kept fresh in one place. */
import { type QueryClient, queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { type Refusal, server, value } from './client';
import type {
  ClipView,
  FirstCount,
  FollowClick,
  JobView,
  LineReading,
  Network,
  PhraseForm,
  Progress,
  RoutineView,
  SidesSaid,
  Span,
  StepsRead,
  StepsSaid,
  TakeResult,
  Uploaded,
} from './schema';

const clip = (clip_id: number) => ({ params: { path: { clip_id } } });
export const routine = (routine_id: number) => ({ params: { path: { routine_id } } });

export const useHome = () => useQuery({ queryKey: ['home'], queryFn: () => value(server.GET('/api/home')) });

export const useRoutine = (id: number) =>
  useQuery({
    queryKey: ['routine', id],
    queryFn: () => value(server.GET('/api/routines/{routine_id}', routine(id))),
  });

export const useResult = (take: number | undefined) =>
  useQuery({
    queryKey: ['result', take],
    queryFn: () => value(server.GET('/api/clips/{clip_id}/result', clip(take as number))),
    enabled: take !== undefined,
    // a comparison may begin and end between two looks at the jobs: nobody would tell us
    refetchInterval: ({ state }) => (state.data && compared(state.data) ? COMPARED_MS : false),
  });

const COMPARED_MS = 500;
const compared = ({ outcome, take: { job } }: TakeResult) =>
  !outcome && !!job && job.step === 'compare' && isLive(job);

/** What one of the instructor’s clips shows of each row, before any take. */
export const useShown = (id: number, clip_id: number) =>
  useQuery({
    queryKey: ['shown', id, clip_id],
    queryFn: () =>
      value(
        server.GET('/api/routines/{routine_id}/reading', {
          params: { path: { routine_id: id }, query: { clip: clip_id } },
        }),
      ),
  });

export const useWave = (id: number | undefined, ready: boolean) =>
  useQuery({
    queryKey: ['wave', id],
    queryFn: () => value(server.GET('/api/clips/{clip_id}/wave', clip(id as number))),
    enabled: id !== undefined && ready,
    staleTime: Number.POSITIVE_INFINITY,
  });

/** Where everybody's feet are in a clip. */
export const useFeet = (id: number, measured: boolean) =>
  useQuery({
    queryKey: ['feet', id],
    queryFn: () => value(server.GET('/api/clips/{clip_id}/feet', clip(id))),
    enabled: measured,
  });

/** What is read off the instructor’s clip for the sheet. */
export const useProposal = (id: number) =>
  useQuery({
    queryKey: ['proposal', id],
    queryFn: () => value(server.GET('/api/routines/{routine_id}/proposal', routine(id))),
    placeholderData: (before) => before,
  });

const reading = (phrase: PhraseForm) =>
  queryOptions({
    queryKey: ['line', phrase],
    queryFn: () => value(server.POST('/api/line', { body: phrase })),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** What a line says, asked while it is typed; the answer before stands until the new one is there. */
export const useReading = (phrase: PhraseForm) =>
  useQuery({ ...reading(phrase), placeholderData: (before) => before });

/** What exactly this line says, for before it is kept. */
export function useRead(): (phrase: PhraseForm) => Promise<LineReading> {
  const queries = useQueryClient();
  return (phrase) => queries.fetchQuery(reading(phrase));
}

const readSteps = (said: StepsSaid) =>
  queryOptions({
    queryKey: ['steps', said],
    queryFn: () => value(server.POST('/api/steps', { body: said })),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** The row that a line of step names fills, asked while it is typed. */
export const useStepsRead = (said: StepsSaid) =>
  useQuery({ ...readSteps(said), enabled: said.text !== '', placeholderData: (before) => before });

export function useReadSteps(): (said: StepsSaid) => Promise<StepsRead> {
  const queries = useQueryClient();
  return (said) => queries.fetchQuery(readSteps(said));
}

/** The dictionary of step names. */
export const useDictionary = () =>
  useQuery({
    queryKey: ['dictionary'],
    queryFn: () => value(server.GET('/api/steps')),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** The beat of the instructor's clip, and where the first 1 may be. */
export const useBeats = (id: number, clip: ClipView | null) =>
  useQuery({
    queryKey: ['beats', id, clip?.id, clip?.run, clip?.measured, clip?.awaits_run],
    queryFn: () => value(server.GET('/api/routines/{routine_id}/beats', routine(id))),
    enabled: clip?.playable ?? false,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before) => before,
  });

const LIVE_MS = 700;
const IDLE_MS = 3000;

/** Looks how far the jobs are, as long as the window is seen; when one has come further, what it made is read again. */
export function useProgress(id: number) {
  const queries = useQueryClient();
  const progress = useQuery({
    queryKey: ['progress', id],
    queryFn: () => value(server.GET('/api/routines/{routine_id}/progress', routine(id))),
    refetchInterval: ({ state }) => (state.data?.clips.some((c) => isLive(c.job)) ? LIVE_MS : IDLE_MS),
    staleTime: 0,
  });
  const seen = useRef<string | undefined>(undefined);
  const now = progress.data;
  useEffect(() => {
    if (!now) return;
    const before = seen.current ?? stages(known(queries, id));
    seen.current = stages(now);
    if (before !== seen.current) refresh(queries, id);
  }, [now, id, queries]);
  return progress;
}

export const isLive = (job: JobView) => job.state === 'queued' || job.state === 'running';

/** The newest job of a clip, as far as it was heard of. */
export function useJob(id: number, clip: ClipView | undefined): JobView | null {
  const heard = useQuery<Progress>({ queryKey: ['progress', id], enabled: false }).data;
  return heard?.clips.find((c) => c.clip === clip?.id)?.job ?? clip?.job ?? null;
}

const stages = (progress: Progress | undefined) =>
  JSON.stringify(progress?.clips.map((c) => [c.clip, c.job.step, c.job.state]));

/** How far the jobs were when the routine was read. */
function known(queries: QueryClient, id: number): Progress | undefined {
  const routine = queries.getQueryData<RoutineView>(['routine', id]);
  if (!routine) return undefined;
  const single = [routine.reference, routine.coming].filter((c) => c !== null);
  const clips = [...single, ...routine.former, ...routine.others.map((o) => o.clip), ...routine.takes];
  return { clips: clips.flatMap((c) => (c.job ? [{ clip: c.id, job: c.job }] : [])) };
}

export function refresh(queries: QueryClient, id: number) {
  const stale = [
    ['progress', id],
    ['routine', id],
    ['result'],
    ['home'],
    ['shown', id],
    ['proposal', id],
    ['feet'],
  ];
  return Promise.all(stale.map((queryKey) => queries.invalidateQueries({ queryKey })));
}

/** What can be done with a clip. */
export function useClipActs(id: number) {
  const queries = useQueryClient();
  const onSuccess = () => {
    refresh(queries, id);
  };
  const cancel = useMutation<unknown, Refusal, number>({
    mutationFn: (c) => value(server.POST('/api/clips/{clip_id}/cancel', clip(c))),
    onSuccess,
  });
  const measure = useMutation<unknown, Refusal, number>({
    mutationFn: (c) => value(server.POST('/api/clips/{clip_id}/measure', clip(c))),
    onSuccess,
  });
  const remove = useMutation<unknown, Refusal, number>({
    mutationFn: (c) => value(server.DELETE('/api/clips/{clip_id}', clip(c))),
    onSuccess,
  });
  const place = useMutation<unknown, Refusal, { clip: number; at: FirstCount | null }>({
    mutationFn: ({ clip: c, at }) =>
      at
        ? value(server.PUT('/api/clips/{clip_id}/first-count', { ...clip(c), body: at }))
        : value(server.DELETE('/api/clips/{clip_id}/first-count', clip(c))),
    onSuccess,
  });
  const run = useMutation<unknown, Refusal, { clip: number; run: Span }>({
    mutationFn: ({ clip: c, run: body }) =>
      value(server.PUT('/api/clips/{clip_id}/run', { ...clip(c), body })),
    onSuccess,
  });
  const follow = useMutation<unknown, Refusal, { clip: number; click: FollowClick | null }>({
    mutationFn: ({ clip: c, click }) =>
      click
        ? value(server.POST('/api/clips/{clip_id}/follow', { ...clip(c), body: click }))
        : value(server.DELETE('/api/clips/{clip_id}/follow', clip(c))),
    onSuccess,
  });
  const sides = useMutation<unknown, Refusal, { clip: number; said: SidesSaid }>({
    mutationFn: ({ clip: c, said }) =>
      value(server.PUT('/api/clips/{clip_id}/sides', { ...clip(c), body: said })),
    onSuccess,
  });
  const stretch = useMutation<Uploaded, Refusal, { clip: number; run: Span }>({
    mutationFn: ({ clip: c, run: body }) =>
      value(server.POST('/api/clips/{clip_id}/stretch', { ...clip(c), body })),
    onSuccess,
  });
  const against = useMutation<unknown, Refusal, { clip: number; reference: number | null }>({
    mutationFn: ({ clip: c, reference }) =>
      value(server.PUT('/api/clips/{clip_id}/against', { ...clip(c), body: { reference } })),
    onSuccess,
  });
  const network = useMutation<unknown, Refusal, Network>({
    mutationFn: (by) =>
      value(server.PUT('/api/routines/{routine_id}/network', { ...routine(id), body: { network: by } })),
    onSuccess,
  });
  const small = useMutation<unknown, Refusal, { clip: number; small: boolean }>({
    mutationFn: ({ clip: c, small: body }) =>
      value(server.PUT('/api/clips/{clip_id}/small', { ...clip(c), body: { small: body } })),
    // not done before it shows
    onSuccess: () => refresh(queries, id),
  });
  return { cancel, measure, remove, place, run, follow, sides, stretch, against, network, small };
}

export function useForgetRoutine() {
  const queries = useQueryClient();
  return useMutation<unknown, Refusal, number>({
    mutationFn: (id) => value(server.DELETE('/api/routines/{routine_id}', routine(id))),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['home'] }),
  });
}
