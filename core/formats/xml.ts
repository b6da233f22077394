/** Writing XML: elements as text, with everything escaped. */

type Attributes = Record<string, string | number | undefined>;

function escaped(text: string): string {
  // Control characters other than tab and line ends may not stand in XML at all.
  return Array.from(text)
    .filter(c => c >= ' ' || c === '\t' || c === '\n' || c === '\r')
    .join('')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;');
}

/** An element with text, or with children that are elements already; children that are undefined are left out. */
export function element(
  name: string,
  attributes: Attributes,
  ...children: (string | Markup | undefined)[]
): Markup {
  const written = Object.entries(attributes)
    .filter(([, value]) => value !== undefined)
    .map(([key, value]) => ` ${key}="${escaped(String(value))}"`)
    .join('');
  const inner = children
    .filter(child => child !== undefined)
    .map(child => (child instanceof Markup ? child.text : escaped(child)))
    .join('');
  return new Markup(inner ? `<${name}${written}>${inner}</${name}>` : `<${name}${written}/>`);
}

/** Finished XML, as opposed to text that still has to be escaped. */
export class Markup {
  constructor(readonly text: string) {}
}

/** An element without attributes. */
export function tag(name: string, ...children: (string | number | Markup | undefined)[]): Markup {
  return element(name, {}, ...children.map(child => (typeof child === 'number' ? String(child) : child)));
}

/** Elements one after the other. */
export function joined(...parts: Markup[]): Markup {
  return new Markup(parts.map(part => part.text).join(''));
}
