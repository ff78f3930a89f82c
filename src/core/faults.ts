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

/** A value that cannot be had: nothing was read or recorded for it yet. What names it waits. */
export class Absent extends Fault {
  constructor(
    readonly what: string,
    /** What it waits for: a reading, or something recorded beside the readings. */ readonly waitsFor:
      'reading' | 'record' = 'reading',
    message = `There is no ${what} yet.`,
  ) {
    super(message);
    this.name = 'Absent';
  }
}

/** A column that a row does not have: a limit that names it is no limit there. */
export class NoColumn extends Absent {
  constructor(what: string) {
    super(what);
    this.name = 'NoColumn';
  }
}

/** A value that can never be had here: a certificate does not reach, no item fits, or the scale has ended. It is not determined. */
export class Undeterminable extends Absent {
  constructor(message: string) {
    super(message, 'record', message);
    this.name = 'Undeterminable';
  }
}

/** A reading at the end of a scale, or typed as off it: it says only on which side the indication lies. */
export class OffScale extends Undeterminable {
  constructor(message: string) {
    super(message);
    this.name = 'OffScale';
  }
}

/** A value that is left out by the document's own conditions. What names it is left out too. */
export class LeftOut extends Absent {
  constructor(what: string) {
    super(what);
    this.name = 'LeftOut';
  }
}

/** What work gives, or undefined where it cannot be had. @example ifHad(() => 3) // 3 */
export function ifHad<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (error instanceof Absent) return undefined;
    throw error;
  }
}
