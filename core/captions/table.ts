import { TWEAKS } from './functions.ts';

/** The document that lists what a field can be said as, made from the functions themselves. */
export function tweaksDocument(): string {
  const lines = TWEAKS.filter((tweak) => tweak.name !== 'filled').map((tweak) => {
    const told = (tweak.options ?? []).map(
      ({ name, label, choices, usual }) =>
        `\`${name}\` (${label}${choices ? `: ${choices.join(', ')}` : ''}${usual ? `; ${usual} without` : ''})`,
    );
    return `| \`:${tweak.name}\` | ${tweak.label} | ${tweak.says} | ${told.join('; ') || '–'} |`;
  });
  return `# What a field can be said as

This page is made from \`core/captions/functions.ts\` by \`npm run docs\`. Each is a function of MessageFormat 2:
\`{$description :shorten most=60}\`.

| function | in the editor | does | is told |
|---|---|---|---|
${lines.join('\n')}
`;
}
