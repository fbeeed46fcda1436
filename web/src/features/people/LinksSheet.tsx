import { useState } from "react";
import type { PasswordLink } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CopyButton } from "@/kit/CopyButton";
import { dateOnly } from "@/kit/dates";
import { download } from "@/kit/download";
import { Qr } from "@/kit/Qr";
import { Sheet } from "@/kit/Sheet";

function address(link: PasswordLink): string {
  return `${window.location.origin}/password/${link.token}`;
}

/** A field that no spreadsheet takes for a formula. */
function field(text: string): string {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return `"${safe.replaceAll('"', '""')}"`;
}

function table(links: PasswordLink[]): string {
  const lines = links.map((l) => [l.name, l.sign_in, address(l)].map(field).join(","));
  return `name,sign-in name,link\r\n${lines.join("\r\n")}\r\n`;
}

/** One-time links: as text, as QR codes for a projector, and as a table for mailing. */
export function LinksSheet({ links, onClose }: { links: PasswordLink[]; onClose: () => void }) {
  const [shown, setShown] = useState(0);
  const link = links[shown];
  if (link === undefined) return null;
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title={links.length === 1 ? `Link for ${link.name}` : `${links.length} links`}
      lead={`With it a password is set, once, until ${dateOnly(link.expires_at)}. It is shown only now; whoever has it can use it.`}
    >
      <div className="flex flex-wrap items-start gap-5">
        <Qr text={address(link)} size={220} />
        <div className="min-w-[16rem] flex-1">
          <p className="text-lg font-bold">{link.name}</p>
          <p className="text-ink-soft">
            signs in as <span className="mono">{link.sign_in}</span>
          </p>
          <p className="mono mt-2 break-all text-sm">{address(link)}</p>
          <div className="mt-3 flex flex-wrap gap-2">
            <CopyButton label="Copy the link" text={address(link)} />
          </div>
          {links.length > 1 && (
            <div className="mt-4 flex flex-wrap items-center gap-2">
              <Button disabled={shown === 0} onClick={() => setShown(shown - 1)}>
                Before
              </Button>
              <span className="mono">
                {shown + 1} / {links.length}
              </span>
              <Button disabled={shown === links.length - 1} onClick={() => setShown(shown + 1)}>
                Next
              </Button>
              <Button onClick={() => download("links.csv", "text/csv", table(links))}>All as CSV</Button>
            </div>
          )}
        </div>
      </div>
    </Sheet>
  );
}
