// What every engine has and the language's own library does not name: texts to bytes and back, and a copy of a value.

declare class TextEncoder {
  encode(text?: string): Uint8Array<ArrayBuffer>;
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  readonly encoding: string;
  decode(bytes?: ArrayBufferLike | ArrayBufferView, options?: { stream?: boolean }): string;
}
declare function structuredClone<T>(value: T): T;
