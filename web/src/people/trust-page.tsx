/** How a phone, tablet or computer comes to trust the certificate of this machine. It is no secret, and shown before anybody signs in. */

interface Device {
  name: string;
  /** Found in what a browser says of itself. */
  agent: RegExp;
  steps: string[];
}

/** Where each system has it, from memory; the names of the settings differ a little from version to version. */
const DEVICES: Device[] = [
  {
    name: 'Android',
    agent: /Android/,
    steps: [
      'Get the authority with the button above.',
      'Open the settings of the device, and search for “CA certificate” (under Security, Encryption and credentials, Install a certificate).',
      'Choose CA certificate, Install anyway, and the file that was downloaded.',
    ],
  },
  {
    name: 'iPhone and iPad',
    agent: /iPhone|iPad/,
    steps: [
      'Open this page in Safari, get the authority with the button above, and allow the download.',
      'Settings, General, VPN and Device Management: choose the profile and install it.',
      'Settings, General, About, Certificate Trust Settings: switch it on there too.',
    ],
  },
  {
    name: 'Mac',
    agent: /Macintosh/,
    steps: [
      'Get the authority with the button above, and open the file: Keychain Access asks where to put it. Choose System.',
      'Find it there, open it, and under Trust choose Always Trust.',
    ],
  },
  {
    name: 'Windows',
    agent: /Windows/,
    steps: [
      'Get the authority with the button above, open the file, and press Install Certificate.',
      'Choose Current User, then “Place all certificates in the following store”: Trusted Root Certification Authorities.',
    ],
  },
  {
    name: 'Linux',
    agent: /Linux/,
    steps: [
      'Get the authority with the button above.',
      'In a browser built on Chromium: Settings, Privacy and security, Security, Manage certificates, and import it as trusted.',
    ],
  },
  {
    name: 'Firefox, on any system',
    agent: /Firefox/,
    steps: [
      'Get the authority with the button above.',
      'Settings, Privacy and Security, View Certificates, Authorities: import it, and tick that it identifies websites.',
    ],
  },
];

export const TRUST = '/trust';

export function TrustPage() {
  const { userAgent } = navigator;
  const mine = DEVICES.find(({ agent }) => agent.test(userAgent));
  return (
    <main className="mx-auto h-full max-w-2xl overflow-y-auto p-5">
      <h1 className="text-2xl font-bold">Trust this page</h1>
      <p className="pt-2 text-ink-2">
        The page is encrypted with a certificate that this machine has made itself, so browsers warn of it. A
        device that has this machine’s authority warns no more, also when the certificate is renewed.
      </p>
      <p className="py-4">
        <a
          href="/api/people/authority"
          className="inline-flex min-h-12 items-center rounded bg-tawny px-4 text-lg font-semibold text-on-tawny"
        >
          Get the authority
        </a>
      </p>
      <p className="border-l-3 border-l-straw pl-3 text-straw">
        Whoever can read the files of this machine could then pose as any page to the device. Do this only for
        a machine that you trust, compare the fingerprint with the operator’s, and remove it after the run.
      </p>
      {DEVICES.map((device) => (
        <details key={device.name} open={device === mine} className="border-b border-rule py-2">
          <summary className="flex min-h-11 cursor-pointer items-center text-lg font-semibold">
            {device.name}
          </summary>
          <ol className="list-decimal pb-2 pl-6">
            {device.steps.map((step) => (
              <li key={step} className="py-1">
                {step}
              </li>
            ))}
          </ol>
        </details>
      ))}
      <p className="py-4">
        <a href="/" className="inline-flex min-h-11 items-center text-tawny-2 underline underline-offset-2">
          Go to the show
        </a>
      </p>
    </main>
  );
}
