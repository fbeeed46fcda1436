import type { DerivedOutput, TwoLevel } from "@/api/schema";
import { Button } from "@/kit/Button";
import { groupLook } from "../model/groups";
import { covers } from "../model/map";
import { Expression, type Shape, TreeExpression } from "./Expression";

function count(n: number, what: string): string {
  return `${n} ${what}${n === 1 ? "" : "s"}`;
}

/** How small a form is, and whether that is proved. */
export function smallness(form: TwoLevel): string {
  const size = `${count(form.terms, "term")}, ${count(form.literals, "literal")}`;
  return form.optimal
    ? `${size}, proved minimal`
    : `${size}, not proved minimal (at least ${count(form.least_terms, "term")})`;
}

interface Props {
  output: DerivedOutput;
  inputs: string[];
  notation: string;
  row: number;
  /** Which of the minimal sums and products are shown. */
  sopAt: number;
  onSop: (cover: number) => void;
  posAt: number;
  onPos: (cover: number) => void;
  /** Which of the two is drawn in the map. */
  drawn: "sop" | "pos";
}

function Line({ title, note, children }: { title: string; note?: string; children: React.ReactNode }) {
  return (
    <div className="border-b border-rule py-2">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h3 className="font-bold">{title}</h3>
        {note !== undefined && <p className="text-sm text-ink-soft">{note}</p>}
      </div>
      <div className="mt-1 text-lg leading-loose">{children}</div>
    </div>
  );
}

/** Steps through covers that tie. */
function Ties({
  form,
  chosen,
  onChoose,
  what,
}: {
  form: TwoLevel;
  chosen: number;
  onChoose: (n: number) => void;
  what: string;
}) {
  const many = form.covers.length;
  if (many < 2) return null;
  return (
    <span className="ml-3 inline-flex items-center gap-1 text-sm print:hidden">
      <Button
        strength="quiet"
        aria-label={`Previous ${what}`}
        onClick={() => onChoose((chosen + many - 1) % many)}
      >
        ‹
      </Button>
      {chosen + 1} of {form.all_covers ? many : `${many} or more`} that tie
      <Button strength="quiet" aria-label={`Next ${what}`} onClick={() => onChoose((chosen + 1) % many)}>
        ›
      </Button>
    </span>
  );
}

/** The forms of one output, each term with the mark of its group. */
export function Forms({ output, inputs, notation, row, sopAt, onSop, posAt, onPos, drawn }: Props) {
  const sopCubes = output.sop.covers[sopAt]?.cubes ?? [];
  const posCubes = output.pos.covers[posAt]?.cubes ?? [];
  const form = (cubes: string[], shape: Shape) => (
    <Expression
      inputs={inputs}
      cubes={cubes}
      shape={shape}
      notation={notation}
      row={row}
      marked={shape === drawn}
    />
  );
  const firstNand = output.sop.covers[0]?.cubes ?? [];
  const firstNor = output.pos.covers[0]?.cubes ?? [];
  return (
    <div>
      <Line title="Minimal sum of products" note={smallness(output.sop)}>
        {form(sopCubes, "sop")}
        <Ties form={output.sop} chosen={sopAt} onChoose={onSop} what="minimal sum" />
      </Line>
      <Line title="Minimal product of sums" note={smallness(output.pos)}>
        {form(posCubes, "pos")}
        <Ties form={output.pos} chosen={posAt} onChoose={onPos} what="minimal product" />
      </Line>
      <Line title="NAND–NAND">{form(firstNand, "nand")}</Line>
      <Line title="NOR–NOR">{form(firstNor, "nor")}</Line>
      {output.xor !== null && (
        <Line title="With exclusive OR">
          <TreeExpression tree={output.xor.tree} notation={notation} />
        </Line>
      )}
      <details className="border-b border-rule py-2">
        <summary className="cursor-pointer font-bold">
          Minterms, maxterms, canonical forms, prime implicants
        </summary>
        <Lists output={output} row={row} />
      </details>
    </div>
  );
}

function Lists({ output, row }: { output: DerivedOutput; row: number }) {
  return (
    <dl className="mt-2 grid grid-cols-[8rem_minmax(0,1fr)] gap-y-1">
      <dt>Minterms</dt>
      <dd className="mono text-sm">Σm({output.minterms.join(", ")})</dd>
      <dt>Maxterms</dt>
      <dd className="mono text-sm">ΠM({output.maxterms.join(", ")})</dd>
      {output.dont_cares.length > 0 && (
        <>
          <dt>Don't-cares</dt>
          <dd className="mono text-sm">d({output.dont_cares.join(", ")})</dd>
        </>
      )}
      {output.canonical.sop !== "" && (
        <>
          <dt>Sum of minterms</dt>
          <dd className="mono text-sm">{output.canonical.sop}</dd>
          <dt>Product of maxterms</dt>
          <dd className="mono text-sm">{output.canonical.pos}</dd>
        </>
      )}
      <dt>Primes</dt>
      <dd className="mono flex flex-wrap gap-x-3 text-sm">
        {output.primes.map((prime) => (
          <span key={prime.cube} className={covers(prime.cube, row) ? "bg-amber-wash" : ""}>
            {prime.cube}
            {prime.essential && <b title="essential"> ess.</b>}
          </span>
        ))}
        {output.primes.length === 0 && "none listed"}
      </dd>
    </dl>
  );
}

/** The groups of the map by name, for print and for those who don't see colours. */
export function GroupList({ cubes }: { cubes: string[] }) {
  return (
    <ul className="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-sm">
      {cubes.map((cube, i) => {
        const look = groupLook(i);
        return (
          <li key={cube} className="flex items-center gap-1.5">
            <svg width="30" height="8" aria-hidden="true">
              <path
                d="M0 4H30"
                stroke={look.colour}
                strokeWidth="2.5"
                strokeDasharray={look.dash || undefined}
              />
            </svg>
            <span className="mono">{cube}</span>
            <span className="sr-only">{look.words} line</span>
          </li>
        );
      })}
    </ul>
  );
}
