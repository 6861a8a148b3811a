import type { Upload } from '../api/useUpload';
import { Trouble } from './Said';

/** How much of a clip has arrived, and why one did not. */
export const Sending = ({ upload }: { upload: Upload }) => (
  <>
    {upload.error && <Trouble>{upload.error}</Trouble>}
    {upload.file && <Arriving {...upload} />}
  </>
);

function Arriving({ file, share, stop }: Upload) {
  return (
    <div role="status" className="flex items-baseline gap-4">
      <span className="min-w-0 truncate">
        <b>{Math.round(share * 100)} %</b> of {file} {share < 1 ? 'is here' : 'is here, being looked at'}
      </span>
      <button type="button" className="act ml-auto" onClick={stop}>
        Stop
      </button>
    </div>
  );
}
