import type { Definition } from './definition.ts';
import { renameField } from './rename-field.ts';
import { allSteps } from './tree.ts';

/** A name that no field has. */
const ELSEWHERE = 'no-such-field-anywhere';

/**
 * Whether anything of a definition depends on a field of the item.
 *
 * @param field its own name, without what lies inside it: `person` for `person.name`
 */
export function usesField(definition: Definition, field: string): boolean {
  return (
    renameField(definition, field, ELSEWHERE) !== definition || allSteps(definition).some(({ step }) => takesAny(step))
  );
}

/** A list asked for by a JSONPath that does not begin with a name may take whatever there is (RFC 9535 section 2.5). */
function takesAny(step: { verb: string; list?: unknown }): boolean {
  // All of what was written by hand is in its item.
  if (step.verb === 'post' || step.verb === 'answer') return true;
  return (
    step.verb === 'foreach' &&
    typeof step.list === 'string' &&
    /^\s*\$\s*(\.\.|\.?\s*\*|\[\s*[^'"\]]*[*?:,])/.test(step.list)
  );
}
