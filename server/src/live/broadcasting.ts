import { Injectable, Logger } from '@nestjs/common';
import type { Server, Socket } from 'socket.io';
import type { ChangedThing, Presence, Steps } from '@tea-pencil/wire';
import { notThere } from '../policy/guard.js';
import { Authority } from './authority.js';
import { wentWrong } from '../running/log.js';

const room = (manuscript: string) => `manuscript:${manuscript}`;
const personRoom = (person: string) => `person:${person}`;
const sessionRoom = (session: string) => `session:${session}`;

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

/** Tells those who are connected what has happened; whoever has something to tell calls this, and knows of no sockets. */
@Injectable()
export class Broadcasting {
  #server: Server | null = null;
  readonly #logger = new Logger('Live');

  constructor(private readonly authority: Authority) {}

  /** From now on there is someone to tell. */
  begin(server: Server): void {
    this.#server = server;
    // Here at once; other processes hear of it through the database and tell theirs.
    const tell = (steps: Steps) => server.local.to(room(steps.manuscript)).emit('steps', steps);
    this.authority.events.on('steps', (steps) => {
      tell(steps);
      server.serverSideEmit('steps', steps);
    });
    this.authority.events.on('strays', (manuscript) => this.changed(manuscript, 'threads'));
    server.on('ended', (ended: Ended) => end(server, ended));
    server.on('steps', (steps: Steps) => {
      tell(steps);
      this.authority
        .heard(steps)
        .catch((problem: unknown) => this.#logger.warn(wentWrong('steps of another process were not heard', problem)));
    });
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
    this.#server?.to(room(manuscript)).emit('changed', { manuscript, what });
  }

  /** Tells one person alone, wherever they have the manuscript open. */
  changedFor(person: string, manuscript: string, what: ChangedThing): void {
    this.#server?.to(personRoom(person)).emit('changed', { manuscript, what });
  }

  /** Closes a manuscript to someone who is none of its people any more. */
  removed(manuscript: string, person: string): void {
    this.#server?.to(personRoom(person)).emit('removed', { manuscript, refused: notThere });
    this.#server?.in(personRoom(person)).socketsLeave(room(manuscript));
  }

  /** Has the connections of a session that goes on under another id made anew. */
  renewed = (session: string): void => this.#end({ session, signedOut: false });

  /** Ends the connections of a session that has ended. */
  signedOut = (session: string): void => this.#end({ session, signedOut: true });

  /** Each process tells its own and then cuts them off: what goes through the database may come after the end. */
  #end(ended: Ended): void {
    if (!this.#server) return;
    end(this.#server, ended);
    this.#server.serverSideEmit('ended', ended);
  }
}
