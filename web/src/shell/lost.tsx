import { Link, useRouteError } from 'react-router';

/** The page for unknown addresses and for errors. */
export function Lost() {
  const error = useRouteError();
  return (
    <section className="p-8">
      <h1 className="pb-2 text-xl font-bold">{error ? 'This page failed' : 'There is nothing here'}</h1>
      <p className="pb-4 text-ink-2">
        {error instanceof Error
          ? `${error.message}. Signals go on; reload the page to see them again.`
          : 'There is no page at this address.'}
      </p>
      <Link className="text-tawny-2 underline" to="/mappings">
        To the mappings
      </Link>
    </section>
  );
}
