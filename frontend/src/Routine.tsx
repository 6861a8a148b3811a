/** One routine: the screen that the address names, and the tabs between its screens. */
import { useEffect } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';
import { isAway } from './api/client';
import { useProgress, useRoutine } from './api/queries';
import { Compare } from './compare/Compare';
import { Count } from './count/Count';
import { Redrill } from './redrill/Redrill';
import { Page, type Tab } from './ui/Page';
import { Away, Trouble, Waiting } from './ui/Said';
import { Watch } from './watch/Watch';

const SCREENS = { watch: Watch, count: Count, compare: Compare, redrill: Redrill };
type Name = keyof typeof SCREENS;

export function Routine() {
  const { id, screen } = useParams();
  const routine = useRoutine(Number(id));
  const title = routine.data?.title;
  useEffect(() => {
    document.title = title ? `${title}, Juxtakine` : 'Juxtakine';
  }, [title]);
  const progress = useProgress(Number(id));
  const tabs = useTabs(screen ?? '');
  if (routine.data && screen && screen in SCREENS) {
    const Screen = SCREENS[screen as Name];
    return (
      <>
        {isAway(progress.error) && <Away>{progress.error?.message}</Away>}
        <Screen key={routine.data.id} routine={routine.data} tabs={tabs} />
      </>
    );
  }
  if (routine.data) return <Navigate to="../count" relative="path" replace />;
  return (
    <Page
      title="Juxtakine"
      left={null}
      sentence={routine.error ? 'This routine can’t be shown.' : 'Looking it up.'}
    >
      {routine.error ? (
        <Trouble>
          {routine.error.message}{' '}
          <Link to="/" className="act">
            All routines
          </Link>
        </Trouble>
      ) : (
        <Waiting>The sheet is being read.</Waiting>
      )}
    </Page>
  );
}

/** The take and the chosen count go along. */
function useTabs(screen: string): Tab[] {
  const [params] = useSearchParams();
  const { id } = useParams();
  return (['watch', 'count', 'compare', 'redrill'] as const).map((name) => ({
    name: `${name.charAt(0).toUpperCase()}${name.slice(1)}`,
    to: `/routines/${id}/${name}?${params}`,
    on: name === screen,
  }));
}
