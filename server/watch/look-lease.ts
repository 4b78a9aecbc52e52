/** A look may take this long before another worker may take it over, in milliseconds. */
export const LOOK_LEASE = 90_000;
