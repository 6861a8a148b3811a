/** A clip on its way to the server, with how far it is; `fetch` can't tell that yet. */
import { Refusal } from './client';
import type { Problem, Uploaded } from './schema';

export type Sending = { answer: Promise<Uploaded>; stop: () => void };

const BROKEN_OFF = 'The upload broke off. Nothing of it was kept; choose the clip again.';

/** `told` hears the share that is there, 0 to 1. The answer is refused with a Refusal, or null where it was stopped. */
export function send(to: string, file: File, told: (share: number) => void): Sending {
  const request = new XMLHttpRequest();
  const answer = new Promise<Uploaded>((done, failed) => {
    const refuse = (sentence: string, status = 0) =>
      failed(new Refusal({ sentence, phrase: 0, start: 0, end: 0 }, status));
    request.upload.onprogress = (e) => told(e.total ? e.loaded / e.total : 0);
    request.onload = () => {
      const said = read(request.responseText);
      if (request.status < 300) done(said as Uploaded);
      else refuse((said as Problem).sentence ?? BROKEN_OFF, request.status);
    };
    request.onerror = () => refuse(BROKEN_OFF);
    request.onabort = () => refuse('Stopped. Nothing of the clip was kept.');
  });
  request.open('POST', `${to}?name=${encodeURIComponent(file.name)}`);
  request.setRequestHeader('Content-Type', 'application/octet-stream');
  request.send(file);
  return { answer, stop: () => request.abort() };
}

function read(text: string): Uploaded | Partial<Problem> {
  try {
    return JSON.parse(text);
  } catch {
    return {};
  }
}
