import { planeOf, type Plane } from './plane.ts';
import { APPLICATION, APPLICATION_GROUP } from './own.ts';
import { BY_LAYER, TRUE_COLOUR } from '../taken.ts';
import type { DxfRecord } from './records.ts';
import { unescaped } from './text.ts';

/** One entity's groups, with what is wrong with them said once. */
export class EntityFields {
  /** Whether something of it can not be read: it is left out. */
  spoilt = false;

  constructor(
    readonly record: DxfRecord,
    readonly kind: string,
    readonly layer: string,
    private readonly problem: (line: number, what: string) => void,
  ) {}

  spoil(what: string): number {
    if (!this.spoilt) this.problem(this.record.line, `${what}; the ${this.kind} is left out`);
    this.spoilt = true;
    return NaN;
  }

  /** What its reader should know of it though it is read. */
  note(what: string): void {
    this.problem(this.record.line, what);
  }

  /** Number of a group that may be absent: it is 0 then, or what stands for it. */
  value(code: number, absent = 0): number {
    const i = this.record.indexOf(code);
    return i < 0 ? absent : this.at(i);
  }

  /** Number of the group in some place of the record. */
  at(i: number): number {
    const n = this.record.numberAt(i);
    if (!Number.isNaN(n)) return n;
    const said = this.record.textAt(i).trim().slice(0, 30);
    return this.spoil(`group ${this.record.codes[i]} of ${this.kind} is “${said}”, not a number`);
  }

  /** In plan nothing is absent: a place has both. */
  place(code: number): number {
    const i = this.record.indexOf(code);
    return i < 0 ? this.spoil(`${this.kind} has no group ${code}, a coordinate`) : this.at(i);
  }

  /** A place in space, its elevation 0 where none is said. */
  places(code: number): [number, number, number] {
    return [this.place(code), this.place(code + 10), this.value(code + 20)];
  }

  /** Places of a group that comes again and again, x y z of each: a place begins with its x, and without an elevation it is 0. */
  placesInOrder(code: number): number[] {
    const { record } = this;
    const out: number[] = [];
    let wants = false;
    const missing = (): void => {
      if (wants) this.spoil(`${this.kind} has a place without a group ${code + 10}, a coordinate`);
    };
    for (let i = 0; i < record.count; i++) {
      if (record.codes[i] === code) {
        missing();
        out.push(this.at(i), 0, 0);
        wants = true;
      } else if (record.codes[i] === code + 10 && wants) {
        out[out.length - 2] = this.at(i);
        wants = false;
      } else if (record.codes[i] === code + 20 && out.length) out[out.length - 1] = this.at(i);
    }
    missing();
    return out;
  }

  /** What it was to us when we wrote it: texts of its extended data under our application's name; nothing of others. */
  own(): { own?: string } {
    const { record } = this;
    if (!record.has(APPLICATION_GROUP)) return {};
    const said: string[] = [];
    let ours = false;
    for (let i = 0; i < record.count && said.length < 2; i++) {
      if (record.codes[i] === APPLICATION_GROUP) ours = record.textAt(i).trim() === APPLICATION;
      else if (ours && record.codes[i] === 1000) said.push(unescaped(record.textAt(i)));
    }
    return said.length ? { own: said.join('\n') } : {};
  }

  /** What it says of itself beside its shape: what it was to us, and the colour that it is drawn in. */
  said(): { own?: string; drawnIn?: number } {
    const drawnIn = this.drawnIn();
    return drawnIn === null ? this.own() : { ...this.own(), drawnIn };
  }

  /** A colour of its own; null of one that is drawn as its layer is. One that can not be read says none. */
  private drawnIn(): number | null {
    const { record } = this;
    const [whole, index] = [record.indexOf(420), record.indexOf(62)];
    const rgb = whole < 0 ? NaN : record.numberAt(whole);
    if (Number.isInteger(rgb) && rgb >= 0 && rgb < TRUE_COLOUR) return TRUE_COLOUR + rgb;
    const said = index < 0 ? BY_LAYER : record.numberAt(index);
    return Number.isInteger(said) && said >= 0 && said < BY_LAYER ? said : null;
  }

  /** The plane that it lies in; null for the ground's own. */
  plane(): Plane | null {
    const { record } = this;
    return record.has(210) || record.has(220) || record.has(230) ? planeOf(...this.normal()) : null;
  }

  normal(): [number, number, number] {
    const said = [210, 220, 230].some((c) => this.record.has(c));
    return said ? [this.value(210), this.value(220), this.value(230)] : [0, 0, 1];
  }
}
