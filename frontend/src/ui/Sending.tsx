import type { Upload } from '../api/useUpload';
import { Trouble } from './Said';

/** How much of a clip has arrived, or why it did not. */
export function Sending({ upload }: { upload: Upload }) {
  if (upload.error) return <Trouble>{upload.error}</Trouble>;
  if (!upload.file) return null;
  return (
    <div role="status" className="flex items-baseline gap-4">
      <span className="min-w-0 truncate">
        <b>{Math.round(upload.share * 100)} %</b> of {upload.file}{' '}
        {upload.share < 1 ? 'is here' : 'is here, being looked at'}
      </span>
      <button type="button" className="act ml-auto" onClick={upload.stop}>
        Stop
      </button>
    </div>
  );
}
