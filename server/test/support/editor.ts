import { gunzipSync } from 'node:zlib';
import type { Socket } from 'socket.io-client';
import { Node } from 'prosemirror-model';
import { EditorState, type Transaction } from 'prosemirror-state';
import { Step } from 'prosemirror-transform';
import { ink, record, schema, toDate } from '@tea-pencil/core';
import type { Visitor } from './server';

/** What the server tells of steps. */
export interface Steps {
  version: number;
  steps: object[];
  clients: string[];
}

export type Answer = { taken?: true; version?: number; behind?: true; refused?: string };

let made = 0;

/** A client without a screen: it follows a manuscript and sends edits, one batch after the other. */
export class Editor {
  state!: EditorState;
  version = 0;
  /** What was acknowledged, in words. */
  acknowledged = '';
  readonly client = `client${++made}x${process.pid}`;
  readonly socket: Socket;

  constructor(
    readonly who: Visitor,
    readonly manuscript: string,
  ) {
    this.socket = who.live();
    this.socket.on('steps', (message: Steps) => this.follow(message));
  }

  ask = (name: string, message: object): Promise<Answer & Record<string, unknown>> =>
    this.socket.timeout(10_000).emitWithAck(name, { manuscript: this.manuscript, ...message }) as Promise<
      Answer & Record<string, unknown>
    >;

  async open(): Promise<this> {
    if (!this.socket.connected) await new Promise((resolve) => this.socket.once('connect', () => resolve(null)));
    const joined = await this.ask('join', {});
    if (joined.refused) throw new Error(joined.refused);
    const json = gunzipSync(joined.packed as Uint8Array).toString('utf8');
    this.state = EditorState.create({ doc: Node.fromJSON(schema, JSON.parse(json)) });
    this.version = joined.version!;
    return this;
  }

  follow({ version, steps }: Steps): void {
    if (!this.state || version !== this.version) return;
    const { tr } = this.state;
    for (const step of steps) tr.step(Step.fromJSON(schema, step));
    this.state = this.state.apply(tr);
    this.version += steps.length;
  }

  send(tr: Transaction, intent: string): Promise<Answer> {
    const steps = tr.steps.map((step) => step.toJSON() as object);
    return this.ask('submit', { version: this.version, steps, intent, client: this.client });
  }

  /** An edit in pencil or ink; taken up again on top of others' steps until the server has it. */
  async edit(make: (state: EditorState) => Transaction, how: 'pencil' | 'ink' = 'pencil'): Promise<Answer> {
    for (let i = 0; i < 50; i++) {
      const stamp = { author: this.who.id, date: toDate(new Date()), newChange: () => `x${this.client}-${++made}` };
      const tr = how === 'pencil' ? record(this.state, make(this.state), stamp) : ink(this.state, make(this.state));
      const answer = await this.send(tr, how);
      if (!answer.behind) return answer;
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
    throw new Error('never taken');
  }

  /** Types at the end of the manuscript and remembers what was acknowledged. */
  async type(text: string): Promise<Answer> {
    const answer = await this.edit((state) => state.tr.insertText(text, state.doc.content.size - 1));
    if (answer.taken) this.acknowledged += text;
    return answer;
  }

  close(): void {
    this.socket.disconnect();
  }
}
