/** Requests to our own server. Whatever goes wrong becomes a sentence that can be shown. */

/** Where the file of a picture is served. */
export const pictureAddress = (asset: string): string => `/api/assets/${asset}`;

export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

const sentence = (status: number, body: unknown): string => {
  const message = (body as { message?: unknown } | null)?.message;
  if (typeof message === 'string') return message;
  return status >= 500
    ? 'The server could not do this just now. Look whether it was done before you try again.'
    : 'The server refused this.';
};

async function answerOf<T>(response: Response): Promise<T> {
  const text = await response.text();
  const body: unknown = text && typeOf(response)?.includes('json') ? JSON.parse(text) : null;
  if (!response.ok) throw new Refused(response.status, sentence(response.status, body));
  return body as T;
}

interface How {
  /** Whether it is to arrive though the page is going away. */
  last?: boolean;
  stop?: AbortSignal;
}

const unreachable = 'The server cannot be reached. Try again when the connection is back.';
/** It may have been done, and the answer lost. */
const unanswered =
  'No answer came from the server. Look, when the connection is back, whether it was done before you try again.';

/**
 * Whether not the server but what stands before it has answered, which did not reach it or got no answer (RFC 9110,
 * 15.6.3 to 15.6.5): nothing is known of what was asked.
 */
const isBetween = (status: number, type: string | null): boolean =>
  status >= 502 && status <= 504 && !type?.includes('json');

const typeOf = (response: Response) => response.headers.get('content-type');

/** The server's answer; null where none came. */
async function reach(path: string, how: RequestInit): Promise<Response | null> {
  const response = await fetch(`/api${path}`, how).catch(() => null);
  return response && !isBetween(response.status, typeOf(response)) ? response : null;
}

export async function request<T = void>(
  method: string,
  path: string,
  body?: unknown,
  { last = false, stop }: How = {},
): Promise<T> {
  const response = await reach(path, {
    method,
    keepalive: last,
    signal: stop ?? null,
    ...(body !== undefined && { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  if (!response && stop?.aborted) throw new Refused(0, 'You stopped it. Nothing was changed.');
  if (!response) throw new Refused(0, method === 'GET' ? unreachable : unanswered);
  return answerOf<T>(response);
}

/** After how many milliseconds what has an id of its own is sent again where no answer came. */
const pauses = [500, 1500, 3000];

/**
 * Sends what has an id of its own, again under it where no answer came: what the server has already, of which the answer
 * was lost, has been kept.
 */
export async function requestOnce(path: string, body: { id: string }): Promise<void> {
  for (const pause of [...pauses, null]) {
    try {
      return await request('POST', path, body);
    } catch (problem) {
      const status = problem instanceof Refused ? problem.status : null;
      const isFirst = pause === pauses[0];
      if (status === 409 && !isFirst) return;
      if (status !== 0 || pause === null) throw problem;
      await new Promise((done) => setTimeout(done, pause));
    }
  }
}

/**
 * Gets a file and hands it to the browser to be kept.
 * @throws Refused with a sentence, where there is none
 */
export async function fetchFile(path: string, stop?: AbortSignal): Promise<void> {
  const response = await reach(path, { signal: stop ?? null });
  if (!response && stop?.aborted) throw new Refused(0, 'It was not written: you stopped it.');
  if (!response) throw new Refused(0, unreachable);
  if (!response.ok) return answerOf(response);
  const named = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('content-disposition') ?? '')?.[1];
  const plain = /filename="([^"]+)"/.exec(response.headers.get('content-disposition') ?? '')?.[1];
  keepFile(named ? decodeURIComponent(named) : (plain ?? 'copy'), await response.blob());
}

/** Hands a file to the browser to be kept. */
export function keepFile(name: string, file: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** Sends a small file in the place of the one before. */
export async function putFile(path: string, file: File): Promise<void> {
  const body = new FormData();
  body.append('file', file);
  const response = await reach(path, { method: 'PUT', body });
  if (!response) throw new Refused(0, unanswered);
  return answerOf(response);
}

/** Sends a file and reports how much of it has gone, from 0 to 1; the rest of the time the server reads it. */
export function sendFile<T>(
  path: string,
  file: File,
  onProgress: (part: number) => void,
  stop: AbortSignal,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const form = new FormData();
    form.append('file', file);
    const sending = new XMLHttpRequest();
    sending.open('POST', `/api${path}`);
    let allSent = false;
    const noAnswer = () =>
      reject(
        new Refused(
          0,
          allSent
            ? `“${file.name}” was sent, but no answer came. Look, when the connection is back, whether it was taken before you send it again.`
            : `“${file.name}” could not be sent: the server closed the connection or cannot be reached. Files up to 50 MB are taken.`,
        ),
      );
    sending.upload.onprogress = ({ loaded, total }) => onProgress(total ? loaded / total : 0);
    sending.upload.onload = () => (allSent = true);
    sending.onload = () => {
      if (isBetween(sending.status, sending.getResponseHeader('content-type'))) return noAnswer();
      let body: unknown = null;
      try {
        body = JSON.parse(sending.responseText);
      } catch {
        // no JSON: the sentence for the status will do
      }
      if (sending.status < 300) resolve(body as T);
      else reject(new Refused(sending.status, sentence(sending.status, body)));
    };
    sending.onerror = noAnswer;
    sending.onabort = () => reject(new Refused(0, `“${file.name}” was not brought in: you stopped it.`));
    stop.addEventListener('abort', () => sending.abort());
    sending.send(form);
  });
}

/** Sends a form with files; how much of it has gone is not told. */
export async function sendForm<T>(path: string, form: FormData, stop: AbortSignal): Promise<T> {
  const response = await reach(path, { method: 'POST', body: form, signal: stop });
  if (!response && stop.aborted) throw new Refused(0, 'It was stopped. Nothing was kept.');
  if (!response) throw new Refused(0, unanswered);
  return answerOf<T>(response);
}
