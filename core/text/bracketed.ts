/** Names that fields usually have. */
export const FIELD_NAMES =
  'title|link|url|name|text|description|date|time|place|price|caption|person|author|stars|location|field|photo|picture';
/** A field that was to be put in and was only typed: "[title]", "<first name>", "{{name}}". */
const BRACKETED = new RegExp(
  String.raw`([\[<]{1,2}(?:(?:your|insert|first|last|the) )?(?:${FIELD_NAMES})[\]>]{1,2})`,
  'i',
);

/** The first thing in a text that somebody was to fill in; undefined where there is none. */
export const bracketedIn = (text: string): string | undefined => BRACKETED.exec(text)?.[1];
