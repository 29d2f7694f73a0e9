import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import {
  schema,
  type Asset,
  type Comment,
  type Manuscript,
  type Origin,
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
  const asset = renamingAssets(manuscript.assets);
  const withAsset = (attrs: Record<string, unknown>) =>
    typeof attrs.asset === 'string' ? { ...attrs, asset: asset(attrs.asset) } : attrs;
  const rename = (node: Json): Json => ({
    ...node,
    ...(node.attrs && { attrs: withAsset(node.attrs) }),
    ...(node.content && { content: node.content.map(rename) }),
    ...(node.marks && {
      marks: node.marks.map(({ attrs, ...mark }) => {
        const renamed = { ...attrs };
        if (attrs?.change)
          Object.assign(renamed, { change: change(String(attrs.change)), author: person(String(attrs.author)) });
        if (attrs?.thread) renamed.thread = thread(String(attrs.thread));
        for (const side of ['was', 'now'])
          if (attrs?.[side]) renamed[side] = withAsset(attrs[side] as Record<string, unknown>);
        return { ...mark, attrs: renamed };
      }),
    }),
  });
  return {
    doc: Node.fromJSON(schema, rename(manuscript.doc.toJSON() as Json)),
    people: manuscript.people.map((one) => ({ ...one, id: person(one.id) })),
    threads: manuscript.threads.map((one) => renamedThread(one, { person, change, thread })),
    assets: manuscript.assets.map((one) => ({ ...one, id: asset(one.id) })),
    ...(manuscript.origin && { origin: renamedOrigin(manuscript.origin, { asset, person, change }) }),
  };
}

/** What the file knows pictures, people and changes by, under the names they have here. */
function renamedOrigin(origin: Origin, names: Record<'asset' | 'person' | 'change', (old: string) => string>): Origin {
  const renamed = <T>(known: Record<string, T>, name: (old: string) => string) =>
    Object.fromEntries(Object.entries(known).map(([id, value]) => [name(id), value]));
  return {
    ...origin,
    assets: renamed(origin.assets, names.asset),
    people: renamed(origin.people, names.person),
    changes: renamed(origin.changes, names.change),
  };
}

/** Pictures get ids that nobody can guess. */
function renamingAssets(assets: readonly Asset[]): (old: string) => string {
  const known = new Map(assets.map(({ id }) => [id, nanoid(16)]));
  return (old) => known.get(old) ?? old;
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
