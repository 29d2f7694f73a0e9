import { io, type Socket } from 'socket.io-client';
import { redo, undo } from 'prosemirror-history';
import type { Transaction } from 'prosemirror-state';
import { getVersion } from 'prosemirror-collab';
import { LiveText } from '../../../web/src/live/live-text';
import type { NotTaken } from '../../../web/src/live/hearer';
import type { Visitor } from './server';

// What a page has and a process has not.
Object.assign(globalThis, { addEventListener: () => undefined, removeEventListener: () => undefined });

/** Makes a link slow: every packet takes so long, there and back, in milliseconds. */
function slow(socket: Socket, lag: number): void {
  const wires = socket as unknown as Record<'packet' | 'onpacket', (packet: object) => void>;
  for (const name of ['packet', 'onpacket'] as const) {
    const fast = wires[name].bind(socket);
    wires[name] = (packet) => {
      const { engine } = socket.io;
      // What was on its way when the connection was lost is lost too.
      const there = () => socket.active && socket.io.engine === engine && engine.readyState === 'open';
      setTimeout(() => there() && fast(packet), lag);
    };
  }
}

/** The screen's own live text without the screen: it types on while its steps are on their way, as people do. */
export class Writer {
  readonly socket: Socket;
  readonly text: LiveText;
  readonly notTaken: NotTaken[] = [];
  readonly said: string[] = [];
  signedOut = false;
  readonly #close: () => void;

  constructor(
    readonly who: Visitor,
    readonly manuscript: string,
    { mayInk = false, lag = 0 } = {},
  ) {
    this.socket = io(who.address, {
      path: '/api/live',
      transports: ['websocket'],
      extraHeaders: { cookie: who.cookie },
      forceNew: true,
      autoConnect: false,
      reconnectionDelay: 50,
      reconnectionDelayMax: 300,
    });
    if (lag) slow(this.socket, lag);
    this.text = new LiveText(
      manuscript,
      who.id,
      () => [],
      () => this.socket,
    );
    this.text.allowInk(mayInk);
    this.#close = this.text.open({
      notTaken: (what) => void this.notTaken.push(what),
      say: (sentence) => void this.said.push(sentence),
      changed: () => undefined,
      signedOut: () => void (this.signedOut = true),
    });
  }

  get state() {
    return this.text.snapshot().state!;
  }
  get doc() {
    return this.state.doc;
  }

  /** Waits until the text is there, or until something else holds. */
  async until(holds: () => boolean = () => !!this.text.snapshot().state, most = 20_000): Promise<this> {
    const began = Date.now();
    while (!holds()) {
      if (Date.now() - began > most) throw new Error(`it did not come to be: ${this.text.snapshot().kept}`);
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    return this;
  }

  settled = (): Promise<this> => this.until(() => this.text.snapshot().kept === 'kept' && !this.text.hasUnkept());
  version = (): number => getVersion(this.state);

  /** Makes the steps of an edit that was tried on the same text. */
  make(tried: Transaction): void {
    const { tr } = this.state;
    for (const step of tried.steps) tr.step(step);
    this.text.dispatch(tr);
  }

  /** @param paragraph at whose end; the last one where none is named */
  type(letters: string, paragraph = this.doc.childCount - 1): void {
    const end = this.doc.children.slice(0, paragraph + 1).reduce((size, { nodeSize }) => size + nodeSize, 0);
    this.text.dispatch(this.state.tr.insertText(letters, end - 1));
  }

  undo = (): boolean => undo(this.state, this.text.dispatch);
  redo = (): boolean => redo(this.state, this.text.dispatch);

  /** From the next connection on, other cookies go along. */
  goWith(cookie: string): void {
    Object.assign(this.socket.io.opts, { extraHeaders: { cookie } });
  }

  close(): void {
    this.#close();
  }
}
