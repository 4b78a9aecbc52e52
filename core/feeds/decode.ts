import { FeedError } from './feed-error.ts';

declare class TextDecoder {
  constructor(label: string, options?: { fatal?: boolean });
  decode(bytes: Uint8Array): string;
}

/** Text and whether the declared encoding had to be passed over to read it. */
export interface Decoded {
  text: string;
  encoding: string;
  warning?: string;
}

/**
 * Turns a feed's bytes into text. A byte order mark wins, then the charset of the Content-Type header, then the XML
 * declaration, then UTF-8 (RFC 7303 section 3). When the bytes are not valid in what was declared, UTF-8 and then
 * windows-1252 are tried, and a warning says so.
 *
 * @throws FeedError `encoding` when an encoding is declared that does not exist and the bytes are not UTF-8 either
 */
export function decode(bytes: Uint8Array, contentType = ''): Decoded {
  const declared = fromMark(bytes) ?? fromHeader(contentType) ?? fromDeclaration(bytes) ?? 'utf-8';
  const strict = tryDecode(bytes, declared);
  if (strict !== undefined) return { text: strict, encoding: declared };
  const utf8 = declared === 'utf-8' ? undefined : tryDecode(bytes, 'utf-8');
  if (utf8 !== undefined) {
    return {
      text: utf8,
      encoding: 'utf-8',
      warning: `The feed says it is written in ${declared}, but it is UTF-8. Read as UTF-8.`,
    };
  }
  const western = exists(declared) ? tryDecode(bytes, 'windows-1252') : undefined;
  if (western !== undefined) {
    return {
      text: western,
      encoding: 'windows-1252',
      warning: `The feed says it is written in ${declared}, but it is not. Read as windows-1252; accents may be wrong.`,
    };
  }
  throw new FeedError('encoding', `The feed says it is written in “${declared}”, which Playa cannot read.`);
}

function tryDecode(bytes: Uint8Array, label: string): string | undefined {
  try {
    return new TextDecoder(label, { fatal: true }).decode(bytes);
  } catch {
    return undefined;
  }
}

function exists(label: string): boolean {
  try {
    new TextDecoder(label);
    return true;
  } catch {
    return false;
  }
}

function fromMark(bytes: Uint8Array): string | undefined {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  return undefined;
}

function fromHeader(contentType: string): string | undefined {
  return /;\s*charset\s*=\s*"?([\w.:-]+)/i.exec(contentType)?.[1]?.toLowerCase();
}

function fromDeclaration(bytes: Uint8Array): string | undefined {
  // UTF-16 without a mark shows as every other byte zero (XML 1.0 appendix F).
  if (bytes[0] === 0x3c && bytes[1] === 0) return 'utf-16le';
  if (bytes[0] === 0 && bytes[1] === 0x3c) return 'utf-16be';
  const head = Array.from(bytes.subarray(0, 200), (byte) => String.fromCharCode(byte)).join('');
  return /^\s*<\?xml[^>]*\sencoding\s*=\s*["']([\w.:-]+)["']/.exec(head)?.[1]?.toLowerCase();
}
