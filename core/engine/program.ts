import type { Definition } from '../workflow/definition.ts';
import type { World } from '../workflow/world.ts';
import type { Env, Plan } from '../steps/verb.ts';
import { prepareStep } from '../steps/index.ts';

/** A definition made ready for many items: every step's conditions and captions parsed once. */
export interface Program {
  steps: readonly { id: string; off: boolean; plan: (env: Env) => Plan }[];
}

export function compile(definition: Definition, world: World): Program {
  return {
    steps: definition.steps.map((step) => ({
      id: step.id,
      off: step.off === true,
      plan: prepareStep(step, world),
    })),
  };
}
