import type { JobStep, JobView } from '../api/schema';
import { time } from './format';
import { useKeys } from './keys';

const DOING: Record<JobStep, string> = {
  assemble: 'put together',
  prepare: 'being made ready to play',
  glance: 'looks taken for the run',
  track: 'frames measured',
  place: 'the counts being found in it',
  compare: 'being laid on the sheet',
};

const GOES_ON =
  'You may go to another page: it goes on, and the sheet fills when it is done. Cancel keeps the clip, to be measured later.';

type Props = { job: JobView; onCancel: () => void; note?: string };

/** How far the work on a clip is, in frames and time left. */
export function Progress({ job, onCancel, note = GOES_ON }: Props) {
  const share = job.total ? job.done / job.total : 0;
  useKeys({ Escape: onCancel });
  return (
    <section aria-label="Progress" className="flex flex-col gap-2">
      <div className="flex items-baseline gap-3">
        <span className="text-[44px] font-[650] leading-none">{job.done}</span>
        <span className="text-soft">
          of {job.total || '…'} {DOING[job.step]}
          {job.seconds_left !== null && `, about ${time(job.seconds_left, 0)} left`}
          {job.state === 'queued' && ', waiting for its turn'}
        </span>
        <button type="button" className="act ml-auto" onClick={onCancel}>
          Cancel<kbd>Esc</kbd>
        </button>
      </div>
      <div
        role="progressbar"
        aria-valuenow={Math.round(share * 100)}
        aria-label="measured"
        className="h-[6px] border-y border-edge"
      >
        <i className="block h-full bg-ink" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="text-sm text-soft">{note}</p>
    </section>
  );
}
