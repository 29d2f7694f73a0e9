import { nanoid } from 'nanoid';
import { io, type Socket } from 'socket.io-client';
import type { ChangedThing, Messages, Outcome, Presence, Steps, Told } from '@tea-pencil/wire';

export interface Heard {
  connect(): void;
  lost(): void;
  steps(message: Steps): void;
  presence(message: Presence): void;
  gone(client: string): void;
  changed(what: ChangedThing): void;
  removed(reason: string): void;
  signedOut(): void;
}

/** How long what is to be done once waits for a connection before it is sent, and how long its answer is waited for. */
const patience = { before: 5000, after: 30_000, between: 1500 };

/** What is known of something whose answer did not come: that it was never sent, or nothing. */
export interface Unanswered {
  unanswered: 'not sent' | 'not known';
}

/** A connection to the server this page came from. */
const toOwnServer = (): Socket =>
  io({ path: '/api/live', transports: ['websocket'], reconnectionDelayMax: 3000, autoConnect: false });

/** The live connection of one manuscript. */
export class Channel {
  readonly #socket: Socket;

  constructor(
    readonly manuscript: string,
    heard: Heard,
    connect = toOwnServer,
  ) {
    const here = <M extends { manuscript: string }>(work: (message: M) => void) => {
      return (message: M) => message.manuscript === manuscript && work(message);
    };
    this.#socket = connect()
      .on('connect', () => heard.connect())
      .on('disconnect', (reason) => {
        heard.lost();
        // What the server itself has closed, because it stops, is opened again like any lost connection.
        if (reason === 'io server disconnect') setTimeout(() => this.#socket.connect(), 1000);
      })
      .on('connect_error', () => heard.lost())
      .on('signed-out', () => heard.signedOut())
      .on(
        'steps',
        here<Told['steps']>((message) => heard.steps(message)),
      )
      .on(
        'presence',
        here<Told['presence']>((message) => heard.presence(message)),
      )
      .on(
        'gone',
        here<Told['gone']>(({ client }) => heard.gone(client)),
      )
      .on(
        'changed',
        here<Told['changed']>(({ what }) => heard.changed(what)),
      )
      .on(
        'removed',
        here<Told['removed']>(({ refused }) => heard.removed(refused)),
      );
  }

  get connected(): boolean {
    return this.#socket.connected;
  }

  /** Connects, and connects again as often as the connection is lost, until closed. */
  open(): () => void {
    const lost = () => void this.#socket.disconnect();
    const found = () => void this.#socket.connect();
    addEventListener('offline', lost);
    addEventListener('online', found);
    found();
    return () => {
      removeEventListener('offline', lost);
      removeEventListener('online', found);
      lost();
    };
  }

  /** The server's answer; null when none came. */
  async ask<T>(name: keyof Messages, message: object): Promise<T | null> {
    if (!this.connected) return null;
    try {
      return (await this.#socket.timeout(20_000).emitWithAck(name, { manuscript: this.manuscript, ...message })) as T;
    } catch {
      return null;
    }
  }

  /**
   * Asks for something that is to be done only once: again under the same name where the connection is lost on the way or
   * the server cannot keep anything just now, for a while.
   * @returns the server's answer, or what is known where none came
   */
  async askOnce(name: 'decide' | 'takeBack', message: object): Promise<Outcome | Unanswered> {
    const asking = { ...message, asked: nanoid(12) };
    if (!(await this.#stands(patience.before))) return { unanswered: 'not sent' };
    const until = Date.now() + patience.after;
    for (;;) {
      const answer = await this.ask<Outcome>(name, asking);
      if (answer && !('later' in answer)) return answer;
      if (answer) await new Promise((done) => setTimeout(done, patience.between));
      if (!(await this.#stands(until - Date.now()))) return answer ?? { unanswered: 'not known' };
    }
  }

  /** Whether the connection stands, waited for so many milliseconds at most. */
  #stands(most: number): Promise<boolean> {
    if (this.connected || most <= 0) return Promise.resolve(most > 0);
    return new Promise((done) => {
      const came = () => {
        clearTimeout(timer);
        done(true);
      };
      const timer = setTimeout(() => {
        this.#socket.off('connect', came);
        done(false);
      }, most);
      this.#socket.once('connect', came);
    });
  }

  /** Says something that needs no answer and may be lost. */
  say(name: keyof Messages, message: object): void {
    if (this.connected) this.#socket.volatile.emit(name, { manuscript: this.manuscript, ...message });
  }
}
