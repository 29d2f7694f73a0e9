import { Mark, type Attrs, type Node } from 'prosemirror-model';
import { isMarkName, isProperty, schema, type PropertyMarkName } from './schema.js';
import { isPropertyName, propertyRules } from './values.js';

/**
 * Properties of a token as plain values, so that `formatting` and `restyled` can say what they were and are. For
 * inline content the properties are its marks (null: not there), for a paragraph its attributes.
 */
export type Properties = Record<string, unknown>;

/** The value a property mark stands for: its attribute, or true where it has none. */
function valueOf(mark: Mark): unknown {
  return 'value' in mark.attrs ? mark.attrs.value : 'href' in mark.attrs ? mark.attrs.href : true;
}

/** The mark that gives inline content a value of a property. */
export function markFor(name: PropertyMarkName, value: unknown): Mark {
  return schema.marks[name].create(name === 'link' ? { href: value } : value === true ? null : { value });
}

/** The properties that inline content has by its marks. */
export function inlineProperties(marks: readonly Mark[]): Properties {
  const found: Properties = {};
  for (const mark of marks) if (isProperty(mark.type.name)) found[mark.type.name] = valueOf(mark);
  return found;
}

/** The marks with one property set; null takes it away. */
function withInlineProperty(marks: readonly Mark[], name: string, value: unknown): readonly Mark[] {
  if (!isMarkName(name) || !isProperty(name)) throw new RangeError(`No property of words: ${name}`);
  const rest = schema.marks[name].removeFromSet(marks);
  return value === null || value === undefined ? rest : markFor(name, value).addToSet(rest);
}

/** What a token looks like: the marks and the attributes of its node. */
export interface Bearing {
  marks: readonly Mark[];
  attrs: Attrs;
}

/** All properties of a token: of a letter by its marks, of an opening by its attributes, of an atom by both. */
export function propertiesOf(node: Node): Properties {
  if (node.isText) return inlineProperties(node.marks);
  return node.isInline ? { ...node.attrs, ...inlineProperties(node.marks) } : node.attrs;
}

/** Whether a node can have a property with that value: one of its own, or of what stands in a line those that words have. */
export function canHave(node: Node, name: string, value: unknown): boolean {
  if (!isPropertyName(name)) return false;
  if (Object.hasOwn(node.type.spec.attrs ?? {}, name)) return propertyRules[name](value);
  return node.isInline && isMarkName(name) && isProperty(name) && (value === null || propertyRules[name](value));
}

/** The bearing with one property set. */
export function withProperty(bearing: Bearing, name: string, value: unknown): Bearing {
  return name in bearing.attrs
    ? { marks: bearing.marks, attrs: { ...bearing.attrs, [name]: value } }
    : { marks: withInlineProperty(bearing.marks, name, value), attrs: bearing.attrs };
}

/** Which properties differ, with the values of both sides; a missing one counts as null. */
export function differences(before: Properties, after: Properties): { name: string; was: unknown; now: unknown }[] {
  const names = new Set([...Object.keys(before), ...Object.keys(after)]);
  const found = [];
  for (const name of names) {
    const was = before[name] ?? null;
    const now = after[name] ?? null;
    if (!sameValue(was, now)) found.push({ name, was, now });
  }
  return found;
}

/** Equality of property values: plain data, compared by content whatever the order of keys. */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b) return false;
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((key) => sameValue((a as Attrs)[key], (b as Attrs)[key]));
}
