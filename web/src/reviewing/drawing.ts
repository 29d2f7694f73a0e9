import type { Flow } from '@tea-pencil/wire';
import { DOMSerializer, type Mark, type Node } from 'prosemirror-model';
import { Decoration, type EditorView, type MarkViewConstructor, type ViewMutationRecord } from 'prosemirror-view';

/** How pending changes are drawn: with their marks, or as the text would read, for what is out of the lens or folded. */

export type Drawn = 'marked' | 'fair' | 'before';
/** How the Marked reading runs: what is removed and added where it stands, or one of them at the side. */

const reviewMarkNames = ['insertion', 'deletion', 'formatting', 'restyled', 'openingInserted', 'openingDeleted'];

const adds = '.insertion, .block-insertion, .opening-inserted, .break-sign.inserted';
const removes = '.deletion, .block-deletion, .opening-deleted, .break-sign.deleted';

/** What an element of a change becomes: out of sight, running on with the line above, or without its marks. */
function classOf(element: HTMLElement, drawn: Drawn, flow: Flow): 'unseen' | 'runs-on' | 'quiet' | '' {
  const gone = (hidden: Drawn) => drawn === hidden || (drawn === 'marked' && flow === hidden);
  if (element.matches('.notch, .break-sign')) {
    const ofAdded = element.matches(adds);
    const whole = element.matches('.notch') ? flow === 'both' : flow !== (ofAdded ? 'before' : 'fair');
    return drawn === 'marked' && whole ? '' : 'unseen';
  }
  const hidden = element.matches(adds) ? 'before' : element.matches(removes) ? 'fair' : null;
  if (hidden && gone(hidden)) return element.matches('.opening-inserted, .opening-deleted') ? 'runs-on' : 'unseen';
  return drawn === 'marked' ? '' : 'quiet';
}

const classes = ['unseen', 'runs-on', 'quiet', 'lit'];

/** Up to so many changes are looked for one by one when they are drawn otherwise. */
const few = 20;

/**
 * Knows how each change is drawn, and keeps the elements of the sheet so. Classes are set on what is there already: no
 * part of the text is drawn anew when a lens or a flow changes.
 */
export class Drawing {
  #unusual: ReadonlyMap<string, Drawn> = new Map();
  #flow: Flow = 'both';
  #lit: string | null = null;
  #joins: { doc: Node; found: Decoration[] } | null = null;

  #drawn = (change: string): Drawn => this.#unusual.get(change) ?? 'marked';

  /** Dresses an element that stands for a part of a change. */
  #dress(element: HTMLElement): void {
    const { change = '' } = element.dataset;
    const wanted = new Set<string>([classOf(element, this.#drawn(change), this.#flow)]);
    if (change === this.#lit) wanted.add('lit');
    for (const name of classes) {
      if (wanted.has(name)) element.classList.add(name);
      else if (element.classList.contains(name)) element.classList.remove(name);
    }
  }

  /** Dresses an element that has just been made. */
  readonly dress = (element: HTMLElement): void => {
    if (this.#unusual.size || this.#flow !== 'both' || this.#lit) this.#dress(element);
  };

  readonly markViews: Record<string, MarkViewConstructor> = Object.fromEntries(
    reviewMarkNames.map((name) => [
      name,
      (mark: Mark, _: unknown, inline: boolean) => {
        const { dom, contentDOM } = DOMSerializer.renderSpec(document, mark.type.spec.toDOM!(mark, inline));
        this.dress(dom as HTMLElement);
        // How it is dressed is no edit.
        const ignoreMutation = ({ type, target }: ViewMutationRecord) => type === 'attributes' && target === dom;
        return { dom: dom as HTMLElement, contentDOM: contentDOM ?? null, ignoreMutation };
      },
    ]),
  );

  /** Whether the break before a paragraph is out of sight, so that it runs on with the one above. */
  #runsOn = ({ marks }: Node): boolean =>
    marks.some(({ type: { name }, attrs }) => {
      const hidden = { openingInserted: 'before', openingDeleted: 'fair' }[name];
      const drawn = hidden && this.#drawn(attrs.change as string);
      return drawn !== undefined && (drawn === hidden || (drawn === 'marked' && this.#flow === hidden));
    });

  /** Paragraphs that read as one with the one above or below. */
  joins(doc: Node): Decoration[] {
    if (this.#joins?.doc === doc) return this.#joins.found;
    const found: Decoration[] = [];
    if (this.#unusual.size || this.#flow !== 'both') {
      let before: { node: Node; pos: number; runsOn: boolean } | null = null;
      doc.forEach((node, pos) => {
        const runsOn = !!before && node.isTextblock && node.marks.length > 0 && this.#runsOn(node);
        if (before && (before.runsOn || runsOn)) {
          const { node: above, pos: from } = before;
          found.push(Decoration.node(from, from + above.nodeSize, { class: runsOn ? 'joins' : 'joins joins-last' }));
        }
        before = node.isTextblock ? { node, pos, runsOn } : null;
        if (runsOn && pos + node.nodeSize === doc.content.size)
          found.push(Decoration.node(pos, pos + node.nodeSize, { class: 'joins joins-last' }));
      });
    }
    this.#joins = { doc, found };
    return found;
  }

  /**
   * Draws changes otherwise than before.
   * @param unusual those that are not drawn with their marks
   * @param lit the one in focus
   */
  draw(view: EditorView, unusual: ReadonlyMap<string, Drawn>, flow: Flow, lit: string | null): void {
    const before = this.#unusual;
    const whole = flow !== this.#flow;
    const differ = new Set<string>();
    if (lit !== this.#lit) for (const id of [lit, this.#lit]) if (id !== null) differ.add(id);
    for (const [id, drawn] of unusual) if (before.get(id) !== drawn) differ.add(id);
    for (const id of before.keys()) if (!unusual.has(id)) differ.add(id);
    this.#unusual = unusual;
    this.#flow = flow;
    this.#lit = lit;
    if (!whole && !differ.size) return;
    const one = (id: string) => `[data-change="${CSS.escape(id)}"]`;
    const of = whole || differ.size > few ? '[data-change]' : [...differ].map(one).join();
    for (const element of view.dom.querySelectorAll<HTMLElement>(of))
      if (whole || differ.has(element.dataset.change!)) this.#dress(element);
    const joined = this.#joins?.found.length ?? 0;
    this.#joins = null;
    if (this.joins(view.state.doc).length || joined) view.setProps({}); // asks for them again
  }
}
