import { createContext } from 'react';

/** How often something was refused on this page: then what is written but not so is put back. */
export const Refusals = createContext(0);
