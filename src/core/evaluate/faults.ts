/** Something that is said to a person or waited for, thousands of times in a run: it carries no stack, which costs more than the work. */
class Fault extends Error {
  constructor(message: string) {
    const { stackTraceLimit } = Error;
    Error.stackTraceLimit = 0;
    super(message);
    Error.stackTraceLimit = stackTraceLimit;
  }
}

/** A document or a case that cannot be accepted, with the path of the fault inside it. */
export class DocumentError extends Fault {
  constructor(
    message: string,
    readonly path: (string | number)[],
  ) {
    super(message);
    this.name = 'DocumentError';
  }
}

/** A value that cannot be had: nothing was read for it yet. What names it waits. */
export class Absent extends Fault {
  constructor(readonly what: string) {
    super(`There is no ${what} yet.`);
    this.name = 'Absent';
  }
}

/** A value that is left out by the document's own conditions. What names it is left out too. */
export class LeftOut extends Absent {
  constructor(what: string) {
    super(what);
    this.name = 'LeftOut';
  }
}

/** What work gives, or undefined where it cannot be had. */
export function ifHad<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (error instanceof Absent) return undefined;
    throw error;
  }
}
