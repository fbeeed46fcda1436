import { Fragment } from "react";
import { Link } from "react-router";

/** The way back: what the page is part of, the widest first, and the page itself last. */
export function Trail({ to, here }: { to: [title: string, path: string][]; here: string }) {
  return (
    <nav aria-label="Way back" className="flex min-w-0 flex-wrap gap-x-2 text-sm print:hidden">
      {to.map(([title, path]) => (
        <Fragment key={path}>
          <Link className="max-w-80 truncate underline" title={title} to={path}>
            {title}
          </Link>
          <span aria-hidden="true" className="text-ink-soft">
            /
          </span>
        </Fragment>
      ))}
      <span aria-current="page" className="max-w-80 truncate text-ink-soft">
        {here}
      </span>
    </nav>
  );
}
