/**
 * An address that may stand behind words somebody clicks: of the web or of mail. What came from outside may be an
 * address that runs something instead.
 *
 * @returns undefined for anything else, so that the words are no link
 */
export function webHref(address: string | null | undefined): string | undefined {
  if (!address || !URL.canParse(address)) return undefined;
  return /^(?:https?|mailto):$/.test(new URL(address).protocol) ? address : undefined;
}
