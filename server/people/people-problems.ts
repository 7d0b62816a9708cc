/** Why somebody is not let in, or may not do something. */
import { HttpException, HttpStatus } from '@nestjs/common';
import { refusalOf, type Asker, type Need } from '@tawny-signal/core/people/roles';
import { count } from '@tawny-signal/core/plural';

/** 401: a wrong passphrase or code. */
export class NotRight extends HttpException {
  constructor(isCode: boolean) {
    const message = isCode
      ? 'This code is not valid any more: it lasts two minutes, and lets one browser in. Ask for another, or type a passphrase.'
      : 'That passphrase is not right. A person with a passphrase of their own types their name as it was written down.';
    super({ message, fields: [{ field: isCode ? 'code' : 'passphrase', message }] }, HttpStatus.UNAUTHORIZED);
  }
}

/** 429: guessing is slowed. */
export class TooManyGuesses extends HttpException {
  constructor(waitMs: number) {
    const message = `Too many wrong passphrases. Try again in ${count(Math.ceil(waitMs / 1000), 'second')}.`;
    super({ message, fields: [{ field: 'passphrase', message }] }, HttpStatus.TOO_MANY_REQUESTS);
  }
}

/** 409: it can’t be added. */
export class NameTaken extends HttpException {
  constructor(message: string) {
    super({ message, fields: [{ field: 'name', message }] }, HttpStatus.CONFLICT);
  }
}

/** 401 for somebody who has not signed in; 403 for somebody whose role is not enough. */
export class MayNot extends HttpException {
  constructor(asker: Asker | null, need: Need) {
    super(
      { message: refusalOf(asker, need), fields: [] },
      asker === null ? HttpStatus.UNAUTHORIZED : HttpStatus.FORBIDDEN,
    );
  }
}
