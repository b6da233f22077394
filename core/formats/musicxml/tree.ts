/** XML as a tree, read by the general-purpose package fast-xml-parser. */
import { XMLParser, XMLValidator } from 'fast-xml-parser';

/** An element: its attributes, its own text, and the elements in it, in their order. */
export interface Node {
  name: string;
  attributes: Readonly<Record<string, string>>;
  text: string;
  children: readonly Node[];
}

type Raw = { [name: string]: Raw[] | string | Record<string, string> };

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseTagValue: false,
  parseAttributeValue: false,
  ignoreDeclaration: true,
  ignorePiTags: true,
});

function nodeOf(raw: Raw): Node | undefined {
  const name = Object.keys(raw).find(key => key !== ':@');
  if (name === undefined || name === '#text') return undefined;
  const inner = raw[name] as Raw[];
  return {
    name,
    attributes: (raw[':@'] as Record<string, string> | undefined) ?? {},
    text: inner.map(part => (typeof part['#text'] === 'string' ? part['#text'] : '')).join(''),
    children: inner.flatMap(part => nodeOf(part) ?? []),
  };
}

/** The outermost element of a document, or why it can't be read, with its place (from 1). */
export function parseXml(text: string): Node | { line: number; column: number; message: string } {
  const valid = XMLValidator.validate(text, { allowBooleanAttributes: true });
  if (valid !== true) {
    const { line, col, msg } = valid.err;
    return { line, column: col, message: `this is no well-formed XML: ${msg}` };
  }
  try {
    for (const raw of parser.parse(text) as Raw[]) {
      const node = nodeOf(raw);
      if (node) return node;
    }
  } catch (cause) {
    return { line: 1, column: 1, message: cause instanceof Error ? cause.message : 'it can not be read' };
  }
  return { line: 1, column: 1, message: 'there is no element in it' };
}

export const all = (node: Node, name: string): Node[] => node.children.filter(child => child.name === name);
export const first = (node: Node | undefined, name: string): Node | undefined =>
  node?.children.find(child => child.name === name);

/** The text of an element in an element, without space around it; undefined where there is none. */
export function textIn(node: Node | undefined, ...path: string[]): string | undefined {
  let at = node;
  for (const name of path) at = first(at, name);
  const text = at?.text.trim();
  return text === undefined || text === '' ? undefined : text;
}

/** The same as a number. */
export function numberIn(node: Node | undefined, ...path: string[]): number | undefined {
  const text = textIn(node, ...path);
  const value = text === undefined ? Number.NaN : Number(text);
  return Number.isFinite(value) ? value : undefined;
}
