import { DOMSerializer, type Mark } from 'prosemirror-model';
import type { MarkViewConstructor, ViewMutationRecord } from 'prosemirror-view';

/** How pending changes are drawn: with their marks, or as the text would read, for what is out of the lens or folded. */

export type Drawn = 'marked' | 'fair' | 'before';
/** How the Marked reading runs: what is removed and added where it stands, or one of them at the side. */
export type Flow = 'both' | 'fair' | 'before';

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

const classes = ['unseen', 'runs-on', 'quiet'];

/**
 * Knows how each change is drawn, and keeps the elements of the sheet so. Classes are set on what is there already: no
 * part of the text is drawn anew when a lens or a flow changes.
 */
export class Drawing {
  #unusual: ReadonlyMap<string, Drawn> = new Map();
  #flow: Flow = 'both';

  /** Dresses an element that stands for a part of a change. */
  readonly dress = (element: HTMLElement): void => {
    const drawn = this.#unusual.get(element.dataset.change ?? '') ?? 'marked';
    const wanted = classOf(element, drawn, this.#flow);
    for (const name of classes) {
      if (name === wanted) element.classList.add(name);
      else if (element.classList.contains(name)) element.classList.remove(name);
    }
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

  /**
   * Draws changes otherwise than before.
   * @param unusual those that are not drawn with their marks
   */
  draw(sheet: HTMLElement, unusual: ReadonlyMap<string, Drawn>, flow: Flow): void {
    const before = this.#unusual;
    const whole = flow !== this.#flow;
    const differ = new Set<string>();
    for (const [id, drawn] of unusual) if (before.get(id) !== drawn) differ.add(id);
    for (const id of before.keys()) if (!unusual.has(id)) differ.add(id);
    this.#unusual = unusual;
    this.#flow = flow;
    if (!whole && !differ.size) return;
    for (const element of sheet.querySelectorAll<HTMLElement>('[data-change]'))
      if (whole || differ.has(element.dataset.change!)) this.dress(element);
  }
}
