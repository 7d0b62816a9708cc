/** Asks the table of needs about each call of HTTP. What is not in the table is refused. */
import { Injectable, type CanActivate, type ExecutionContext } from '@nestjs/common';
import type { Request } from 'express';
import { httpNeed } from '@tawny-signal/core/people/needs';
import { may } from '@tawny-signal/core/people/roles';
import { asker } from './asking.js';
import { MayNot } from './people-problems.js';

@Injectable()
export class MayGuard implements CanActivate {
  canActivate(context: ExecutionContext): boolean {
    const request = context.switchToHttp().getRequest<Request>();
    const { path } = request.route as { path: string };
    const need = httpNeed(request.method, path, request.body);
    if (need === null) throw new Error(`${request.method} ${path} is not in core/people/needs`);
    const who = asker();
    if (!may(who, need)) throw new MayNot(who, need);
    return true;
  }
}
