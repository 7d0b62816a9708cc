/** The address without a page: leads to where this browser begins. */
import { Navigate, useLocation } from 'react-router';
import { useMe } from '../people/me';
import { isWelcomed } from '../start/welcomed';
import { placeOfApp } from './where-it-was';

export function Home() {
  const me = useMe();
  const { search } = useLocation();
  const forOperators = isWelcomed() ? '/mappings' : '/start';
  const first = me?.role === 'onlooker' ? '/afar' : me?.role === 'caller' ? '/prompt' : forOperators;
  return <Navigate to={placeOfApp(search) ?? first} replace />;
}
