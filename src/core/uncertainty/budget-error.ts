/** A budget that cannot be evaluated, with the path of the fault inside the document. */
export class BudgetError extends Error {
  constructor(
    message: string,
    readonly path: (string | number)[],
  ) {
    super(message);
    this.name = 'BudgetError';
  }
}
