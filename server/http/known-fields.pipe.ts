/** Checks what a call is given against its schema, and refuses fields that the schema does not know instead of dropping them. */
import { StandardSchemaValidationPipe, type ArgumentMetadata } from '@nestjs/common';
import { BadInput, problemsOf } from './problems.js';
import { refuseUnknown } from './unknown-fields.js';

export class KnownFieldsPipe extends StandardSchemaValidationPipe {
  constructor() {
    super({ exceptionFactory: (issues) => new BadInput(problemsOf(issues)) });
  }

  override async transform<T = unknown>(value: T, metadata: ArgumentMetadata): Promise<T> {
    const parsed = await super.transform<T>(value, metadata);
    refuseUnknown(value, parsed);
    return parsed;
  }
}
