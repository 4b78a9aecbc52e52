/** "A needs one.", "A and B need one."; names may hold commas themselves. Nothing for nobody. */
export function needOne(names: readonly string[]): string {
  if (names.length === 0) return '';
  const last = names.length - 1;
  const all = last === 0 ? names[0]! : `${names.slice(0, last).join('; ')} and ${names[last]!}`;
  return `${all} ${last === 0 ? 'needs' : 'need'} one.`;
}
