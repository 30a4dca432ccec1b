import { useLocation, useNavigation } from "react-router";

/** The words of the address one is at, or, on the way to others of the same page, those: who is quick chooses twice before the first has come. */
export function useWords(): URLSearchParams {
  const here = useLocation();
  const { location: going } = useNavigation();
  return new URLSearchParams(going?.pathname === here.pathname ? going.search : here.search);
}
