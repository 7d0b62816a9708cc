/** The certificate of the encrypted page: how it is known, and how a browser comes to trust it. */
import { QRCodeSVG } from 'qrcode.react';
import type { CertificateSeen } from '@tawny-signal/core/people/people';

const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium' });

export function CertificateBox({
  certificate: { fingerprint, until, ours },
}: {
  certificate: CertificateSeen;
}) {
  return (
    <section aria-label="Certificate" className="flex flex-wrap gap-6">
      <div className="max-w-lg min-w-64 flex-1">
        <h2 className="pb-1 font-semibold">Certificate</h2>
        {ours && (
          <p className="pb-2 text-ink-2">
            It is this machine’s own, so a browser warns at the first visit. Compare the fingerprint that it
            shows with this one; or install{' '}
            <a href="/api/people/authority" className="text-tawny-2 underline underline-offset-2">
              this machine’s authority
            </a>{' '}
            on the phone or laptop as trusted, once (
            <a href="/trust" className="text-tawny-2 underline underline-offset-2">
              how each device does it
            </a>
            ). Whoever can read this machine’s files could then pose as any page to it: remove it after the
            run.
          </p>
        )}
        <p className="font-mono text-sm break-all">{fingerprint}</p>
        <p className="pt-1 text-sm text-ink-2">
          SHA-256. {ours ? 'It is renewed by itself before' : 'It ends on'} {DAY.format(until)}.
        </p>
      </div>
      <QRCodeSVG value={fingerprint} size={132} marginSize={2} title="The fingerprint of the certificate" />
    </section>
  );
}
