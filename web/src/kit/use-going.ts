import { useNavigate, type NavigateOptions, type To } from 'react-router';
import { useHandler } from './use-handler';

/** Goes to an address. It stays the same wherever one is; what `useNavigate` gives is another one at each address. */
export function useGoing() {
  const navigate = useNavigate();
  return useHandler((to: To, options?: NavigateOptions) => navigate(to, options));
}
