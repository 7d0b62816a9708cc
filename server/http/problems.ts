/** What is said to a person whose input was no good: one message, and one for each field that is meant. */
import { ArgumentsHost, Catch, ExceptionFilter, HttpException, HttpStatus, Logger } from '@nestjs/common';
import type { Response } from 'express';
import { TOO_DEEP } from '@tawny-signal/core/files/nesting';

export interface FieldProblem {
  /** Dotted path into what was sent, like `send.address`. */
  field: string;
  message: string;
}

/** 422: the input is understood, and can't be taken. */
export class BadInput extends HttpException {
  constructor(fields: FieldProblem[]) {
    const message = [...new Set(fields.map((field) => field.message))].join(' ');
    super({ message, fields }, HttpStatus.UNPROCESSABLE_ENTITY);
  }
}

/** 404: what the edit is about is not there any more. */
export class NotThere extends HttpException {
  /** @param hint says what can be done about it */
  constructor(what: string, hint = 'Someone may have removed it; Undo brings it back.') {
    super({ message: `${what} no longer exists. ${hint}`, fields: [] }, 404);
  }
}

/** 423: the show is locked. */
export class Locked extends HttpException {
  constructor() {
    super(
      {
        message: 'The show is locked: nothing can be edited. Unlock it on the prompt desk first.',
        fields: [],
      },
      423,
    );
  }
}

/** 503: it can't be saved now. */
export class NotSaved extends HttpException {
  /** @param why as it goes on after “Not saved: ” */
  constructor(why: string) {
    super(
      { message: `Not saved: ${why}. The show is unchanged; try again in a moment.`, fields: [] },
      HttpStatus.SERVICE_UNAVAILABLE,
    );
  }
}

/** 422: the database can't take just this. */
export class NotKept extends HttpException {
  constructor() {
    super(
      { message: 'Not saved: the database can’t store this. Nothing was changed.', fields: [] },
      HttpStatus.UNPROCESSABLE_ENTITY,
    );
  }
}

/** 503: the engine is being started again. */
export class EngineAway extends HttpException {
  constructor() {
    super(
      { message: 'Not done: the engine is restarting. Try again in a moment.', fields: [] },
      HttpStatus.SERVICE_UNAVAILABLE,
    );
  }
}

interface IssueLike {
  message: string;
  path?: readonly (PropertyKey | { key: PropertyKey })[] | undefined;
}

/** The issues that a schema found, as field problems. @param under a path that goes before theirs */
export function problemsOf(issues: readonly IssueLike[], under = ''): FieldProblem[] {
  return issues.map((issue) => {
    const path = (issue.path ?? []).map((step) => String(typeof step === 'object' ? step.key : step));
    return { field: [under, ...path].filter(Boolean).join('.'), message: issue.message };
  });
}

/** Everything that goes wrong leaves in the one shape `{ message, fields }`. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly log = new Logger('http');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    if (error instanceof HttpException) {
      const body = error.getResponse();
      const known = typeof body === 'object' && 'fields' in body;
      response.status(error.getStatus()).json(known ? body : { message: error.message, fields: [] });
      return;
    }
    // What express refuses before Nest sees it: a body too large, or no JSON.
    const status = (error as { status?: number }).status;
    if (status && status >= 400 && status < 500) {
      const { expose, message: said } = error as { expose?: boolean; message: string };
      const message =
        status === 413
          ? 'That is too large.'
          : expose && said === TOO_DEEP
            ? said
            : 'The request could not be read as JSON.';
      response.status(status).json({ message, fields: [] });
      return;
    }
    this.log.error(error);
    response
      .status(500)
      .json({ message: 'Something went wrong in Tawny Signal. The log has the details.', fields: [] });
  }
}
