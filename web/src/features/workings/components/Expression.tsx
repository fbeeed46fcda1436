import { clsx } from "clsx";
import { Fragment, type ReactNode } from "react";
import type { FormNode } from "@/api/schema";
import { groupLook } from "../model/groups";
import { covers } from "../model/map";
import { Name } from "./Name";

/** The shape of a two-level form. */
export type Shape = "sop" | "pos" | "nand" | "nor";

interface Props {
  inputs: string[];
  cubes: string[];
  shape: Shape;
  notation: string;
  /** The row cursor: terms that cover it are lit. */
  row: number;
  /** Its terms are the groups drawn in the map, so they carry their marks. */
  marked?: boolean;
}

interface Signs {
  and: string;
  or: string;
  xor: string;
}

function signs(notation: string): Signs {
  if (notation === "operators") return { and: " & ", or: " | ", xor: " ^ " };
  if (notation === "words") return { and: " and ", or: " or ", xor: " xor " };
  return { and: "\u2009", or: " + ", xor: " ⊕ " };
}

/** A complemented literal or group in the course's notation. */
function inverted(notation: string, inner: ReactNode, isName: boolean): ReactNode {
  const held = isName ? inner : <>({inner})</>;
  if (notation === "operators") return <>~{held}</>;
  if (notation === "words") return <>not {held}</>;
  if (notation === "overline") {
    return (
      <span className="mx-px inline-block border-t-[1.5px] border-current pt-[3px] leading-tight">
        {inner}
      </span>
    );
  }
  return <>{held}′</>;
}

function literal(notation: string, name: string, positive: boolean): ReactNode {
  if (positive) return <Name text={name} />;
  if (notation === "overline") return <Name text={name} bar />;
  return inverted(notation, <Name text={name} />, true);
}

function joined(parts: ReactNode[], between: string): ReactNode {
  return parts.map((part, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the parts of one expression in order
    <Fragment key={i}>
      {i > 0 && between}
      {part}
    </Fragment>
  ));
}

/** The literals of a cube; for sums those that make it 0. */
function literals(notation: string, inputs: string[], cube: string, asProduct: boolean): ReactNode[] {
  return inputs.flatMap((name, i) =>
    cube[i] === "-"
      ? []
      : [<Fragment key={name}>{literal(notation, name, (cube[i] === "1") === asProduct)}</Fragment>],
  );
}

/** A two-level form, set as in a textbook; each term carries the mark of its group in the map. */
export function Expression({ inputs, cubes, shape, notation, row, marked = false }: Props) {
  const sign = signs(notation);
  const product = shape === "sop" || shape === "nand";
  const empty = product ? "0" : "1";
  if (cubes.length === 0) return <span className="mono">{empty}</span>;
  if (cubes.some((c) => !/[01]/.test(c))) return <span className="mono">{product ? "1" : "0"}</span>;
  const term = (cube: string, index: number): ReactNode => {
    const parts = literals(notation, inputs, cube, product);
    const inner = joined(parts, product ? sign.and : sign.or);
    const single = parts.length === 1;
    let held: ReactNode = inner;
    if (shape === "nand" || shape === "nor") {
      held = single ? literals(notation, inputs, cube, !product) : inverted(notation, inner, false);
    } else if (shape === "pos" && !single && cubes.length > 1) held = <>({inner})</>;
    const look = groupLook(index);
    const lit = covers(cube, row);
    return (
      <span
        className={clsx("inline-block whitespace-nowrap px-1 pb-0.5", lit && "bg-amber-wash")}
        style={marked ? { borderBottom: `3px ${look.border} ${look.colour}` } : undefined}
      >
        {held}
      </span>
    );
  };
  const terms = joined(
    cubes.map((cube, i) => term(cube, i)),
    shape === "sop" ? sign.or : shape === "pos" ? sign.and : shape === "nand" ? sign.and : sign.or,
  );
  const outer = shape === "nand" || shape === "nor";
  const alone = cubes.length === 1 && (cubes[0] ?? "").replaceAll("-", "").length === 1;
  if (outer && alone) return <span>{literals(notation, inputs, cubes[0] ?? "", product)}</span>;
  return <span>{outer ? inverted(notation, terms, false) : terms}</span>;
}

/** A form given as a tree. */
export function TreeExpression({ tree, notation }: { tree: FormNode; notation: string }) {
  return <span>{node(tree, notation, 0)}</span>;
}

const STRENGTH: Record<string, number> = { or: 1, nor: 1, xor: 2, xnor: 2, and: 3, nand: 3 };

function node(tree: FormNode, notation: string, around: number): ReactNode {
  if (tree.kind === "constant") return tree.name;
  if (tree.kind === "input") return literal(notation, tree.name, !tree.complemented);
  const sign = signs(notation);
  const strength = STRENGTH[tree.kind] ?? 0;
  const between = strength === 3 ? sign.and : strength === 2 ? sign.xor : sign.or;
  const inner = joined(
    tree.operands.map((operand) => node(operand, notation, strength)),
    between,
  );
  if (tree.kind === "not" || tree.kind.startsWith("n") || tree.kind === "xnor")
    return inverted(notation, inner, false);
  return strength <= around ? <>({inner})</> : inner;
}
