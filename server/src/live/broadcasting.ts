import { Injectable, Logger } from '@nestjs/common';
import type { Server, Socket } from 'socket.io';
import type { ChangedThing, Presence, Steps } from '@tea-pencil/wire';
import { notThere } from '../policy/memberships.js';
import { Authority } from './authority.js';
import { Calmly } from './calmly.js';
import { History } from './history.js';
import { wentWrong } from '../running/log.js';

const room = (manuscript: string) => `manuscript:${manuscript}`;
const personRoom = (person: string) => `person:${person}`;
const sessionRoom = (session: string) => `session:${session}`;

/** Steps that stand in the log: what is large is not sent from process to process, but read there. */
interface Kept {
  manuscript: string;
  version: number;
  to: number;
}
const few = 100;
const small = 20_000;

/** How long another process may take to say who is there, in milliseconds. */
const patience = 1000;

/** How soon the same people hear again that the same has changed, in milliseconds, where it does so without end. */
const pause = 1000;
const burst = 10;

/** About how many letters a message has. */
const sizeOf = ({ steps }: Steps) => JSON.stringify(steps).length;

/** A session that has ended, or goes on under another id. */
interface Ended {
  session: string;
  signedOut: boolean;
}

/** Ends the connections that a session has in this process; who is signed out is told so first. */
function end(server: Server, { session, signedOut }: Ended): void {
  const its = server.local.in(sessionRoom(session));
  if (signedOut) its.emit('signed-out');
  its.disconnectSockets(true);
}

/** Something of a manuscript that has changed, and for whom. */
interface Changed {
  whom: string;
  manuscript: string;
  what: ChangedThing;
}

const tellChanged = (server: Server, { whom, manuscript, what }: Changed) =>
  server.local.to(whom).emit('changed', { manuscript, what });

/** A manuscript that is not open any more, to one person or to anybody. */
interface Closed {
  manuscript: string;
  person: string | null;
  because: string;
}

/** Tells those who have it open in this process, and then leaves them out. */
function close(server: Server, { manuscript, person, because }: Closed): void {
  const whose = person === null ? room(manuscript) : personRoom(person);
  server.local.to(whose).emit('removed', { manuscript, refused: because });
  server.local.in(whose).socketsLeave(room(manuscript));
}

/** Tells those who are connected what has happened; whoever has something to tell calls this, and knows of no sockets. */
@Injectable()
export class Broadcasting {
  #server: Server | null = null;
  readonly #calmly = new Calmly(pause, burst);
  readonly #logger = new Logger('Live');

  constructor(
    private readonly authority: Authority,
    private readonly history: History,
  ) {}

  /** From now on there is someone to tell. */
  begin(server: Server): void {
    this.#server = server;
    // Here at once; other processes hear of it through the database and tell theirs.
    const tell = (steps: Steps) => server.local.to(room(steps.manuscript)).emit('steps', steps);
    this.authority.events.on('steps', (steps) => {
      tell(steps);
      const { manuscript, version } = steps;
      if (steps.steps.length <= few && sizeOf(steps) <= small) server.serverSideEmit('steps', steps);
      else server.serverSideEmit('kept', { manuscript, version, to: version + steps.steps.length });
    });
    this.authority.events.on('strays', (manuscript) => this.changed(manuscript, 'threads'));
    server.on('ended', (ended: Ended) => end(server, ended));
    server.on('closed', (closed: Closed) => close(server, closed));
    server.on('changed', (changed: Changed) => tellChanged(server, changed));
    const hear = async (steps: Steps) => {
      tell(steps);
      await this.authority.heard(steps);
    };
    const notHeard = (problem: unknown) =>
      this.#logger.warn(wentWrong('steps of another process were not heard', problem));
    server.on('steps', (steps: Steps) => void hear(steps).catch(notHeard));
    server.on('kept', (kept: Kept) => void this.#read(kept).then(hear).catch(notHeard));
  }

  /** Steps that another process has kept, from the log. */
  async #read({ manuscript, version, to }: Kept): Promise<Steps> {
    const rows = await this.history.since(manuscript, version, to);
    return {
      manuscript,
      version,
      steps: rows.map(({ step }) => step),
      clients: rows.map(({ client }) => client),
      authors: rows.map(({ author }) => author),
      intents: rows.map(({ intent }) => intent),
    };
  }

  /** Who a connection is of. */
  welcome = (socket: Socket, person: string, session: string): Promise<void> | void =>
    socket.join([personRoom(person), sessionRoom(session)]);

  follow = (socket: Socket, manuscript: string): Promise<void> | void => socket.join(room(manuscript));
  leave = (socket: Socket, manuscript: string): Promise<void> | void => socket.leave(room(manuscript));

  /** A client that followed a manuscript has gone. */
  gone(manuscript: string, client: string): void {
    this.#server?.to(room(manuscript)).emit('gone', { manuscript, client });
  }

  /** Passes on where someone is to the others who follow the manuscript, if they do so themselves. */
  presence(socket: Socket, presence: Presence): void {
    const where = room(presence.manuscript);
    if (socket.rooms.has(where)) socket.to(where).emit('presence', presence);
  }

  /** Tells everyone who has the manuscript open that its threads or people have changed. */
  changed(manuscript: string, what: ChangedThing): void {
    this.#change(room(manuscript), manuscript, what);
  }

  /** Tells one person alone, wherever they have the manuscript open. */
  changedFor(person: string, manuscript: string, what: ChangedThing): void {
    this.#change(personRoom(person), manuscript, what);
  }

  #change(whom: string, manuscript: string, what: ChangedThing): void {
    this.#calmly.say(`${whom} ${manuscript} ${what}`, () => {
      if (!this.#server) return;
      tellChanged(this.#server, { whom, manuscript, what });
      this.#server.serverSideEmit('changed', { whom, manuscript, what });
    });
  }

  /** Closes a manuscript to someone who is none of its people any more. */
  removed = (manuscript: string, person: string, because = notThere): void =>
    this.#close({ manuscript, person, because });

  /** Closes a manuscript to everyone. */
  closed = (manuscript: string, because: string): void => this.#close({ manuscript, person: null, because });

  /** Who has which of some manuscripts open just now, in whatever process. */
  async here(manuscripts: readonly string[]): Promise<Map<string, Set<string>>> {
    const people = new Map<string, Set<string>>();
    const rooms = new Map(manuscripts.map((id) => [room(id), id]));
    // Of no room at all would be of all who are connected.
    if (!rooms.size || !this.#server) return people;
    const all = [...rooms.keys()];
    const { local } = this.#server;
    // A process that has died or stands still does not answer; then it is those of this one.
    const found = await this.#server
      .in(all)
      .timeout(patience)
      .fetchSockets()
      .catch(() => local.in(all).fetchSockets());
    for (const { rooms: its, data } of found)
      for (const one of its) {
        const id = rooms.get(one);
        const { person } = data as { person?: string };
        if (id !== undefined && person) people.set(id, (people.get(id) ?? new Set()).add(person));
      }
    return people;
  }

  /** Has the connections of a session that goes on under another id made anew. */
  renewed = (session: string): void => this.#end({ session, signedOut: false });

  /** Ends the connections of a session that has ended. */
  signedOut = (session: string): void => this.#end({ session, signedOut: true });

  /** At once in this process: by way of the database one would hear for a while of what is not for them any more. */
  #close(closed: Closed): void {
    if (!this.#server) return;
    close(this.#server, closed);
    this.#server.serverSideEmit('closed', closed);
  }

  /** Each process tells its own and then cuts them off: what goes through the database may come after the end. */
  #end(ended: Ended): void {
    if (!this.#server) return;
    end(this.#server, ended);
    this.#server.serverSideEmit('ended', ended);
  }
}
