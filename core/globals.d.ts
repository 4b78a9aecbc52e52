// What every place Playa's core runs in has, Node and browsers alike, though neither is assumed.
declare function structuredClone<T>(value: T): T;
declare class URLSearchParams {
  constructor(init?: [string, string][]);
  append(name: string, value: string): void;
  get(name: string): string | null;
  has(name: string): boolean;
  toString(): string;
}
declare class URL {
  static canParse(url: string, base?: string): boolean;
  constructor(url: string, base?: string);
  readonly href: string;
  readonly protocol: string;
  readonly hostname: string;
  readonly searchParams: URLSearchParams;
}
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(bytes: Uint8Array): string;
}
