/** Why a feed could not be read, in a sentence for the marketer. Nothing of the feed has been taken. */
export class FeedError extends Error {
  override name = 'FeedError';
  /** What sort of trouble it is, for tests and for choosing a remedy. */
  readonly trouble: 'not-a-feed' | 'broken-off' | 'entities' | 'encoding' | 'too-large' | 'malformed';
  constructor(trouble: FeedError['trouble'], message: string) {
    super(message);
    this.trouble = trouble;
  }
}
