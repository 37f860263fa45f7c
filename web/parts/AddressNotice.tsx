import { Notice } from './Notice';

/** Addresses that lead to the machine itself, whichever machine opens them. */
const HERE = /^(localhost|127(\.\d+){3}|\[::1\]|0\.0\.0\.0)$/;

/** Says of an address that is given away when nobody else can open it. @param what “These slips lead” */
export function AddressNotice({ address, what }: { address: string; what: string }) {
  if (!URL.canParse(address)) return null;
  const url = new URL(address);
  if (!HERE.test(url.hostname)) return null;
  return (
    <div className="print:hidden">
      <Notice kind="trouble">
        {what} to <strong>{url.host}</strong>, which only this computer opens. Whoever looks after Ecoute
        gives it the address that others use: <code>ECOUTE_URL</code>.
      </Notice>
    </div>
  );
}
