/** What every place that runs JavaScript has besides the language itself (ECMA-429, Minimum Common Web API), as far as it is used here. */

declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(bytes: Uint8Array): string;
}
declare class URLSearchParams {
  constructor(query?: string);
  append(name: string, value: string): void;
  get(name: string): string | null;
  getAll(name: string): string[];
  set(name: string, value: string): void;
}
