import { z } from 'zod';
import { OPERATORS, type Operator } from './operators.ts';

/** One question about one field: "length is over 120". */
export interface Test {
  type: 'test';
  /** Path of the field. */
  field: string;
  op: Operator;
  /** What it is compared with, as the operator wants it; absent for operators that compare with nothing. */
  value?: string | number | undefined;
}

/** Several questions of which all, or any, must hold. An empty group holds. */
export interface Group {
  type: 'group';
  match: 'all' | 'any';
  items: Condition[];
}

export type Condition = Test | Group;

const operatorNames = Object.keys(OPERATORS) as [Operator, ...Operator[]];

const testSchema = z.object({
  type: z.literal('test'),
  field: z.string().max(300),
  op: z.enum(operatorNames),
  value: z.union([z.string().max(2000), z.number()]).optional(),
});

export const groupSchema: z.ZodType<Group> = z.lazy(() =>
  z.object({
    type: z.literal('group'),
    match: z.enum(['all', 'any']),
    items: z.array(z.union([testSchema, groupSchema])).max(50),
  }),
);

/** Every test in a condition, in reading order. */
export function testsIn(condition: Condition): Test[] {
  return condition.type === 'test' ? [condition] : condition.items.flatMap(testsIn);
}
