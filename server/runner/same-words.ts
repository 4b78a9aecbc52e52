/** The same words of another workflow within this time are held, in seconds: half a day. */
export const SAME_WORDS = 12 * 3600;
