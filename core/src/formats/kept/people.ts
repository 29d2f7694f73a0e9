import { initialsOf, unnamed, type Person } from '../../manuscript/people.js';

/** The people a file names: each once, by the id that our own files give, else by name. */
export class People {
  readonly people: Person[] = [];
  readonly #byId = new Map<string, Person>();
  readonly #byName = new Map<string, Person>();
  /** The names by which the file itself knows them, if it does. */
  readonly names: Record<string, string | null> = {};
  #freshId(): string {
    let n = this.people.length + 1;
    while (this.#byId.has(`p${n}`)) n++;
    return `p${n}`;
  }

  of(name: string | undefined, initials: string | undefined, id: string | undefined): string {
    const known = name?.trim() || unnamed;
    let person = id ? this.#byId.get(id) : this.#byName.get(known);
    if (!person) {
      person = { id: id ?? this.#freshId(), name: known, initials: initials?.trim() || initialsOf(known) };
      this.people.push(person);
      this.names[person.id] = id ?? null;
      this.#byId.set(person.id, person);
      if (!this.#byName.has(known)) this.#byName.set(known, person);
    } else if (initials?.trim() && person.initials === initialsOf(known)) person.initials = initials.trim();
    return person.id;
  }
}
