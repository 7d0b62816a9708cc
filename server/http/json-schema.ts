/** Core's schemas in the API's description. */
import { applyDecorators } from '@nestjs/common';
import { ApiBody, ApiResponse } from '@nestjs/swagger';
import type { ApiBodyOptions } from '@nestjs/swagger';
import { z } from 'zod';

type SchemaObject = Extract<ApiBodyOptions, { schema: unknown }>['schema'];

const describe = (schema: z.ZodType): SchemaObject =>
  z.toJSONSchema(schema, { target: 'openapi-3.0', io: 'input' }) as SchemaObject;

/** What a call takes, what it gives back, and how it says no. */
export function Takes(schema: z.ZodType): MethodDecorator {
  return applyDecorators(
    ApiBody({ schema: describe(schema) }),
    ApiResponse({
      status: 422,
      description: 'The input can’t be taken: { message, fields: [{ field, message }] }',
    }),
  );
}
export const Gives = (schema: z.ZodType, description: string): MethodDecorator =>
  applyDecorators(ApiResponse({ status: 200, description, schema: describe(schema) }));
