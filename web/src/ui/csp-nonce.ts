/** The nonce of this page, which lets the libraries that add styles to it do so (server/http/headers). */
import { setNonce } from 'get-nonce';

export const cspNonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? '';
setNonce(cspNonce);
