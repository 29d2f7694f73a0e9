import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import {
  schema,
  type Comment,
  type Manuscript,
  type Person,
  type Remark,
  type Thread,
  type Turn,
} from '@tea-pencil/core';

/** A lasting id for each value that comes by, the same for the same value. */
function renaming(make: () => string): (old: string) => string {
  const known = new Map<string, string>();
  return (old) => {
    let fresh = known.get(old);
    if (!fresh) known.set(old, (fresh = make()));
    return fresh;
  };
}

interface Json {
  attrs?: Record<string, unknown>;
  marks?: Json[];
  content?: Json[];
}

/** A manuscript from a file with ids of our own, so that no file can speak in the name of what is here already. */
export function withIds(manuscript: Manuscript, addPerson: (person: Person) => string): Manuscript {
  const person = renamingOf(manuscript.people, addPerson);
  const change = renaming(() => nanoid(12));
  const thread = renaming(() => nanoid(12));
  const rename = (node: Json): Json => ({
    ...node,
    ...(node.content && { content: node.content.map(rename) }),
    ...(node.marks && {
      marks: node.marks.map(({ attrs, ...mark }) => {
        const renamed = { ...attrs };
        if (attrs?.change)
          Object.assign(renamed, { change: change(String(attrs.change)), author: person(String(attrs.author)) });
        if (attrs?.thread) renamed.thread = thread(String(attrs.thread));
        return { ...mark, attrs: renamed };
      }),
    }),
  });
  return {
    doc: Node.fromJSON(schema, rename(manuscript.doc.toJSON() as Json)),
    people: manuscript.people.map((one) => ({ ...one, id: person(one.id) })),
    threads: manuscript.threads.map((one) => renamedThread(one, { person, change, thread })),
    assets: manuscript.assets,
  };
}

interface Names {
  person(id: string): string;
  change(id: string): string;
  thread(id: string): string;
}

function renamedThread({ turned, change, ...thread }: Thread, names: Names): Thread {
  const turn = <T extends Turn>(one: T): T => ({ ...one, by: names.person(one.by) });
  const body = (remark: Remark): Remark => ({
    ...remark,
    content: remark.content.map((line) => ({
      ...line,
      ...(line.content && {
        content: line.content.map((piece) =>
          piece.type === 'mention' ? { ...piece, attrs: { person: names.person(piece.attrs.person) } } : piece,
        ),
      }),
    })),
  });
  const renamed = ({ query, proposal, ...comment }: Comment): Comment => ({
    ...comment,
    id: nanoid(12),
    author: names.person(comment.author),
    body: body(comment.body),
    ...(query && { query: { to: names.person(query.to), ...(query.settled && { settled: turn(query.settled) }) } }),
    ...(proposal && {
      proposal: {
        words: proposal.words,
        ...(proposal.made && { made: { ...turn(proposal.made), change: names.change(proposal.made.change) } }),
      },
    }),
  });
  return {
    ...thread,
    id: names.thread(thread.id),
    author: names.person(thread.author),
    ...(turned && { turned: turn(turned) }),
    ...(change !== undefined && { change: names.change(change) }),
    comments: thread.comments.map(renamed),
  };
}

function renamingOf(people: readonly Person[], add: (person: Person) => string): (old: string) => string {
  const known = new Map(people.map((person) => [person.id, add(person)]));
  return (old) => known.get(old)!;
}
