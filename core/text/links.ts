/** The domain of an address, without "www."; empty when it is none. */
export function domainOf(address: string): string {
  const url = readAddress(address);
  return url ? url.hostname.replace(/^www\./, '') : '';
}

/**
 * An address with parameters added, encoded as forms are (WHATWG URL, "application/x-www-form-urlencoded"). Parameters
 * that are there already are kept as they stand, to the character, also those with the same name: whoever put them there
 * meant them.
 */
export function withParameters(address: string, parameters: Readonly<Record<string, string>>): string {
  const url = readAddress(address);
  if (!url) return address;
  const added = new URLSearchParams();
  for (const [name, value] of Object.entries(parameters))
    if (value !== '' && !url.searchParams.has(name)) added.append(name, value);
  const extra = added.toString();
  if (extra === '') return address.trim();
  // Put together by hand: going through searchParams would write the existing ones anew.
  const [, before = '', query, hash = ''] = /^([^?#]*)(\?[^#]*)?(#.*)?$/su.exec(address.trim()) ?? [];
  const joined =
    query === undefined || query === '?' ? `?${extra}` : `${query}${query.endsWith('&') ? '' : '&'}${extra}`;
  return before + joined + hash;
}

function readAddress(address: string): URL | null {
  try {
    const url = new URL(address.trim());
    return url.protocol === 'https:' || url.protocol === 'http:' ? url : null;
  } catch {
    return null;
  }
}
