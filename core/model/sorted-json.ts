/**
 * JSON with the names of every object in order, so that the same values give the same text however they were put
 * together: a state that was read back has its names in the order of its schema.
 *
 * @example sortedJson({ b: 1, a: { d: 2, c: 3 } }) // '{"a":{"c":3,"d":2},"b":1}'
 */
export const sortedJson = (value: unknown): string =>
  JSON.stringify(value, (_, each: unknown) =>
    typeof each === 'object' && each !== null && !Array.isArray(each)
      ? Object.fromEntries(Object.entries(each).sort(([a], [b]) => (a < b ? -1 : 1)))
      : each,
  );
