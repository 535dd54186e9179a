/** An outcome that the caller must be told of, with the HTTP status it answers with. */
export class ServiceError extends Error {
  override readonly name = 'ServiceError';
  constructor(
    readonly status: 400 | 404 | 409 | 413 | 422,
    message: string,
    /** More for the page to act on. */
    readonly details?: unknown,
  ) {
    super(message);
  }
}
