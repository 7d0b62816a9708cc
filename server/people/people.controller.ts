import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  Post,
  Put,
  Req,
  Res,
  StreamableFile,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import type { z } from 'zod';
import {
  codeSchema,
  newPassphraseSchema,
  newPersonSchema,
  openingSchema,
  signInSchema,
  type CertificateSeen,
  type Me,
  type PeopleSeen,
  type Shown,
} from '@tawny-signal/core/people/people';
import { roleSchema } from '@tawny-signal/core/people/roles';
import { LiveGateway } from '../desk/live.gateway.js';
import { Takes } from '../http/json-schema.js';
import { BadInput, NotThere } from '../http/problems.js';
import { ownAddresses } from './addresses.js';
import { asker, type Somebody } from './asking.js';
import type { Certificate } from './certificate.js';
import { DOORS, type DoorHolder } from './doors.js';
import { PeopleService } from './people.service.js';

const meOf = (who: Somebody | null): Me => ({
  role: who?.role ?? null,
  name: who?.name ?? '',
  signedIn: who !== null && who.sessionId !== null,
});

const seen = (certificate: Certificate | null): CertificateSeen | null =>
  certificate && {
    fingerprint: certificate.fingerprint,
    until: certificate.until,
    ours: certificate.authority !== null,
  };

@ApiTags('people')
@Controller('api/people')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly live: LiveGateway,
    @Inject(DOORS) private readonly doors: DoorHolder,
  ) {}

  /** Who this browser is. */
  @Get('me')
  me(): Me {
    return meOf(asker());
  }

  /** The certificate that a browser has to trust where the page is encrypted by one of our own. It is no secret. */
  @Get('authority')
  authority(@Res({ passthrough: true }) response: Response): StreamableFile {
    const authority = this.doors.certificate()?.authority;
    if (!authority) throw new NotThere('This certificate', 'The page is not encrypted by one of ours.');
    response.setHeader('Content-Disposition', 'attachment; filename="tawny-signal.crt"');
    return new StreamableFile(Buffer.from(authority), { type: 'application/x-x509-ca-cert' });
  }

  /** With a name, and a passphrase or a code. Sets a cookie for a day. */
  @Post('sign-in')
  @HttpCode(200)
  @Takes(signInSchema)
  async signIn(
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
    @Body({ schema: signInSchema }) given: z.infer<typeof signInSchema>,
  ): Promise<Me> {
    return meOf(await this.people.signIn(request, response, given));
  }

  @Post('sign-out')
  @HttpCode(200)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<null> {
    await this.people.signOut(request, response);
    return null;
  }

  /** How far the page is open, who is signed in, and who guessed wrongly. */
  @Get()
  read(): PeopleSeen {
    const { people, doors } = this;
    return {
      opening: people.opening,
      fixed: people.fixed,
      addresses: doors.urls(),
      troubles: doors.troubles(),
      announced: doors.announcer?.announced() ?? null,
      own: ownAddresses(),
      certificate: seen(doors.certificate()),
      sessions: people.sessions((id) => this.live.isHere(id), asker()?.sessionId ?? null),
      people: people.people,
      without: people.without,
      guesses: people.wrongGuesses,
    };
  }

  /** Opens the page to others, or closes it. @returns the passphrases that were made for it: they are shown once */
  @Put('opening')
  @Takes(openingSchema)
  async open(@Body({ schema: openingSchema }) opening: z.infer<typeof openingSchema>): Promise<Shown> {
    if (this.people.fixed.listen && opening.listen.join() !== this.people.opening.listen.join())
      throw new BadInput([
        {
          field: 'listen',
          message: 'The start command says where it listens: start it without --listen first.',
        },
      ]);
    const own = ownAddresses();
    const strange = opening.listen.find(
      (address) => address !== 'all' && !own.includes(address) && !address.startsWith('127.'),
    );
    if (strange !== undefined)
      throw new BadInput([
        {
          field: 'listen',
          message: `This machine has no address ${strange}. It has ${own.join(', ') || 'none that others can reach'}.`,
        },
      ]);
    const shown = opening.listen.length > 0 || opening.hereToo ? await this.people.makeMissing() : {};
    await this.people.open(opening);
    await this.doors.set({ ...opening, tls: this.people.opening.tls });
    return shown;
  }

  /** Sets the passphrase of a role, or makes one, and ends the sessions that came in with the old one. */
  @Put('passphrases/:role')
  @Takes(newPassphraseSchema)
  async setPassphrase(
    @Param('role') given: string,
    @Body({ schema: newPassphraseSchema }) body: z.infer<typeof newPassphraseSchema>,
  ): Promise<Shown> {
    const role = roleSchema.safeParse(given);
    if (!role.success)
      throw new BadInput([{ field: 'role', message: 'A role is onlooker, caller or operator.' }]);
    return { [role.data]: await this.people.setPassphrase(role.data, body.passphrase) };
  }

  /** A person with a passphrase of their own, which is shown once. */
  @Post()
  @Takes(newPersonSchema)
  async setPerson(
    @Body({ schema: newPersonSchema }) { name, role, passphrase }: z.infer<typeof newPersonSchema>,
  ): Promise<Shown> {
    return { [role]: await this.people.setPerson(name, role, passphrase) };
  }

  @Delete(':name')
  async removePerson(@Param('name') name: string): Promise<null> {
    await this.people.removePerson(name);
    return null;
  }

  /** A code that lets one browser in within two minutes. */
  @Post('codes')
  @Takes(codeSchema)
  makeCode(@Body({ schema: codeSchema }) { role }: z.infer<typeof codeSchema>): {
    code: string;
    until: number;
  } {
    return this.people.makeCode(role);
  }

  @Delete('sessions/:id')
  async endSession(@Param('id') id: string): Promise<null> {
    await this.people.end(id);
    return null;
  }

  /** Ends all sessions but the one that asks. */
  @Delete('sessions')
  async endSessions(): Promise<null> {
    await this.people.endAll(asker()?.sessionId ?? null);
    return null;
  }
}
