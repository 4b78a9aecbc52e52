/**
 * The address of a channel or group as the network wants it, from any form that people paste: "@name", a bare name, the
 * address of its page with or without the web part, an invite link, its number.
 *
 * @returns undefined when it reads as none of these
 */
export function chatAddress(pasted: string): string | undefined {
  const text = pasted
    .normalize('NFC')
    .replace(/[\u200b-\u200f\u2060\ufeff]/g, '')
    .trim()
    .replace(/^[<("'“‘[]+|[>)"'”’\].,;]+$/gu, '')
    .replace(/[?#].*$/, '')
    .replace(/\/+$/, '');
  if (/^-?\d{3,}$/.test(text)) return text;
  const invite = /(?:^|\/)join\/([\w-]{4,64})$/.exec(text)?.[1] ?? /^\+([\w-]{4,64})$/.exec(text)?.[1];
  if (invite) return `+${invite}`;
  const page = /(?:^|\/)c\/([\w.]{2,64})(?:\/\d+)?$/.exec(text)?.[1];
  const name = page ?? /^@?([\p{L}][\p{L}\p{N}_.]{1,63})$/u.exec(text)?.[1];
  if (name === undefined) return undefined;
  return /^\d+$/.test(name) ? name : `@${name}`;
}
