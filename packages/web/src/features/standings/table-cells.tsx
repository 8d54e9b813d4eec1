import type { ReactNode } from "react";

/** The head of a column in a table of figures. */
export const Th = ({ children }: { children: ReactNode }) => (
  <th scope="col" className="py-1.5 pr-3 font-normal whitespace-nowrap">
    {children}
  </th>
);
/** A cell of one. */
export const Td = ({ children }: { children: ReactNode }) => (
  <td className="py-1.5 pr-3 whitespace-nowrap">{children}</td>
);
