import { SaxesParser } from 'saxes';

export type Attributes = Readonly<Record<string, string>>;

/** An element that is open. */
export interface OpenElement {
  name: string;
  attributes: Attributes;
  /** What it says itself, without what its children say. */
  said: string;
}

export interface Visitor {
  /** Elements whose own text is asked for; of others it is blanks between their children. */
  readonly saying: ReadonlySet<string>;
  open: (element: OpenElement, parent: OpenElement | undefined) => void;
  close: (element: OpenElement, parent: OpenElement | undefined) => void;
  /** Of another namespace: passed over, with all in it. */
  foreign: (name: string) => void;
  problem: (line: number, what: string) => void;
}

const DEEPEST = 64;

/** Walks through the elements of a LandXML text as it comes. No document type, no entities of its own, depth bounded. */
export class XmlWalk {
  stopped = false;
  /** Elements opened so far. */
  opened = 0;
  private readonly parser = new SaxesParser();
  private readonly stack: OpenElement[] = [];
  /** Prefix and namespace of the file's own elements; how deep an element of another one is open. */
  private own = { prefix: '', space: undefined as string | undefined };
  private foreignDepth = 0;
  /** Lines of the file that somebody else has read. */
  private passed = 0;

  constructor(private readonly visitor: Visitor) {
    this.parser.on('doctype', () =>
      this.stop('A document type declaration is not read: it could pull in other files. Ask for the file without it.'),
    );
    this.parser.on('error', (e) => {
      if (!this.stopped) this.stop(`not well-formed: ${e.message.replace(/^\d+:\d+:\s*|\.$/g, '')}`);
    });
    this.parser.on('opentag', (tag) => this.openTag(tag.name, tag.attributes as Attributes));
    this.parser.on('text', (text) => {
      const top = this.top;
      if (top && !this.foreignDepth && visitor.saying.has(top.name)) top.said += text;
    });
    this.parser.on('closetag', () => this.closeTag());
  }

  get line(): number {
    return this.parser.line + this.passed;
  }

  /** The innermost element that is open; undefined within elements of other namespaces. */
  get top(): OpenElement | undefined {
    return this.foreignDepth ? undefined : this.stack.at(-1);
  }

  write(text: string): void {
    if (!this.stopped) this.parser.write(text);
  }

  /** Whether the text came to its end. */
  end(): boolean {
    if (!this.stopped) this.parser.close();
    return !this.stopped;
  }

  /** Lines that are not written here, since somebody else has read what is in them. */
  pass(lines: number): void {
    this.passed += lines;
  }

  problem(what: string): void {
    this.visitor.problem(this.line, what);
  }

  private stop(what: string): void {
    this.problem(what);
    this.stopped = true;
  }

  private openTag(tagName: string, attributes: Attributes): void {
    if (this.stopped) return;
    this.opened++;
    const { stack, visitor } = this;
    const parent = stack.at(-1);
    // A child parts what stands before it from what stands behind.
    if (parent && visitor.saying.has(parent.name)) parent.said += ' ';
    const colon = tagName.indexOf(':');
    const [prefix, name] = [tagName.slice(0, Math.max(0, colon)), tagName.slice(colon + 1)];
    const space = attributes[prefix ? `xmlns:${prefix}` : 'xmlns'];
    if (!parent) this.own = { prefix, space };
    const isForeign = prefix !== this.own.prefix || (space !== undefined && space !== this.own.space);
    if (stack.length + this.foreignDepth >= DEEPEST) return this.stop(`elements are nested more than ${DEEPEST} deep`);
    if (this.foreignDepth || isForeign) {
      if (this.foreignDepth++ === 0)
        visitor.foreign(prefix === this.own.prefix ? `${name} of another namespace` : tagName);
      return;
    }
    if (!parent && name !== 'LandXML') return this.stop(`the outermost element is ${name}, not LandXML`);
    const element = { name, attributes, said: '' };
    stack.push(element);
    visitor.open(element, parent);
  }

  private closeTag(): void {
    if (this.stopped) return;
    if (this.foreignDepth) return void this.foreignDepth--;
    const element = this.stack.pop()!;
    this.visitor.close(element, this.stack.at(-1));
  }
}
