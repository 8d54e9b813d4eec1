import { forwardRef } from "react";
import {
  Link,
  type LinkProps,
  type NavigateOptions,
  NavLink,
  type NavLinkProps,
  useNavigate,
  useSearchParams,
} from "react-router";

/** An address with the edition that is looked at, so that no step of the job changes it. */
export function withEdition(to: string, editionId: string | null): string {
  if (editionId === null) return to;
  const { pathname, searchParams, hash } = new URL(to, "http://any");
  if (!searchParams.has("edition")) searchParams.set("edition", editionId);
  return `${pathname}?${searchParams.toString()}${hash}`;
}

/** The edition that the address names, or null. */
export const useEditionInAddress = (): string | null => useSearchParams()[0].get("edition");

/** A link to one of the lead's screens that keeps the edition. */
export const EditionLink = forwardRef<HTMLAnchorElement, LinkProps & { to: string }>(function EditionLink(
  { to, ...rest },
  ref,
) {
  return <Link ref={ref} to={withEdition(to, useEditionInAddress())} {...rest} />;
});

/** As `EditionLink`, for the steps of the course. */
export function EditionNavLink({ to, ...rest }: NavLinkProps & { to: string }) {
  return <NavLink to={withEdition(to, useEditionInAddress())} {...rest} />;
}

/** Goes to one of the lead's screens and keeps the edition. */
export function useEditionNavigate(): (to: string, options?: NavigateOptions) => void {
  const navigate = useNavigate();
  const editionId = useEditionInAddress();
  return (to, options) => void navigate(withEdition(to, editionId), options);
}
