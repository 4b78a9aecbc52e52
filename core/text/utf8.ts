/** The number of bytes of a text in UTF-8 (RFC 3629). A surrogate without its half counts as U+FFFD, as encoders write it. */
export function utf8Length(text: string): number {
  let bytes = 0;
  for (const char of text) {
    const code = char.codePointAt(0)!;
    bytes += code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
  }
  return bytes;
}
