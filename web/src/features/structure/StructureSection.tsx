import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "@/api/client";
import type { DrawnBlock, Structure, StructureLevels } from "@/api/schema";
import { Choice } from "@/kit/Choice";
import { CONTROL } from "@/kit/Field";
import { Level } from "@/kit/Level";
import { ErrorNote, Loading } from "@/kit/notes";
import { StructureDrawing } from "./StructureDrawing";
import { nameOf, tableRows } from "./shapes";

interface Props {
  course: number;
  handIn: number;
  /** The row that is looked at, as input bits; none where a row doesn't say what the wires carry. */
  row: string | null;
  /** The finding, by its place in the verdict, whose clock cycle is looked at. */
  moment: { finding: number; cycle: number } | null;
  /** A symbol was chosen: its place in the source. */
  onPlace: (file: string, line: number) => void;
}

const WIDEST_TABLE = 16;

/** What is known of the chosen symbol. */
function Chosen({ block, levels }: { block: DrawnBlock; levels: StructureLevels | null }) {
  const inputs = block.pins.filter((p) => p.input);
  const now = inputs
    .map((p) => {
      const level = levels?.levels[p.wire] ?? "";
      return p.inverted && (level === "0" || level === "1") ? (level === "0" ? "1" : "0") : level;
    })
    .join("");
  const isTable = block.table !== null && block.table.length > 1;
  return (
    <div className="mt-2 flex flex-wrap items-start gap-x-6 gap-y-2 text-sm" aria-live="polite">
      <p>
        <span className="font-bold">{nameOf(block)}</span>
        {block.file !== null && block.line !== null && (
          <>
            {" "}
            from <span className="mono">{block.file}</span>, line {block.line}
          </>
        )}
        {isTable && (block.table ?? "").length > WIDEST_TABLE && "; its table has too many rows to show"}
      </p>
      {isTable && block.table !== null && block.table.length <= WIDEST_TABLE && (
        <table className="mono border-collapse text-center">
          <caption className="sr-only">Table of {nameOf(block)}</caption>
          <thead>
            <tr className="border-b border-rule-strong">
              {inputs.map((pin, k) => (
                <th key={`${pin.wire} ${pin.y}`} scope="col" className="px-2 font-normal text-ink-soft">
                  {pin.name === "" ? k + 1 : pin.name}
                </th>
              ))}
              <th scope="col" className="border-l border-rule-strong px-2 font-normal text-ink-soft">
                out
              </th>
            </tr>
          </thead>
          <tbody>
            {tableRows(block.table).map((r) => (
              <tr key={r.inputs} className={r.inputs === now ? "bg-tint font-bold" : ""}>
                {Array.from(r.inputs, (bit, k) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a bit is its place
                  <td key={k} className="px-2">
                    {bit}
                  </td>
                ))}
                <td className="border-l border-rule-strong px-1">
                  <Level value={r.output} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** The same as a list, for those who don't see a drawing. */
function Symbols({ drawing, levels }: { drawing: Structure; levels: StructureLevels | null }) {
  const driver = new Map<number, string>();
  drawing.blocks.forEach((block, k) => {
    for (const pin of block.pins)
      if (!pin.input) driver.set(pin.wire, block.label === "" ? `${nameOf(block)} ${k + 1}` : block.label);
  });
  return (
    <details className="mt-2 text-sm">
      <summary>The same as a list</summary>
      <table className="mt-1 border-collapse">
        <thead>
          <tr>
            {["symbol", "line", "reads", "level"].map((head) => (
              <th key={head} scope="col" className="border border-rule px-2 text-left">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {drawing.blocks.map((block, k) => {
            const pin = block.pins.find((p) => !p.input) ?? block.pins[0];
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: a symbol is its number
              <tr key={k}>
                <td className="border border-rule px-2">
                  {block.label === "" ? `${nameOf(block)} ${k + 1}` : nameOf(block)}
                </td>
                <td className="border border-rule px-2">{block.line ?? ""}</td>
                <td className="mono border border-rule px-2">
                  {block.pins
                    .filter((p) => p.input)
                    .map((p) => `${p.inverted ? "not " : ""}${driver.get(p.wire) ?? "?"}`)
                    .join(", ")}
                </td>
                <td className="mono border border-rule px-2">
                  {pin === undefined ? "" : (levels?.levels[pin.wire] ?? "")}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}

/** The structure of a hand-in: gates as they are written or tables as a device has them, with the levels of a row. */
export function StructureSection({ course, handIn, row, moment, onPlace }: Props) {
  const [view, setView] = useState<Structure["view"]>("written");
  const [output, setOutput] = useState("");
  const [chosen, setChosen] = useState<number | null>(null);
  const path = { course, hand_in: handIn };
  const found = useQuery({
    queryKey: ["structure", course, handIn, view, output],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}/structure", {
          params: { path, query: { view, output } },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const drawing = found.isPlaceholderData ? undefined : found.data;
  const at = moment !== null ? { finding: moment.finding } : row !== null ? { row } : null;
  const onRow = useQuery({
    queryKey: ["structure-levels", course, handIn, view, output, at],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}/structure/levels", {
          params: { path, query: { view, output, ...at } },
        }),
      ),
    enabled: at !== null && drawing !== undefined && (moment !== null || !drawing.clocked),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  // Levels of another drawing would colour the wrong wires.
  const levels =
    onRow.data !== undefined && onRow.data.levels.length === drawing?.wires.length ? onRow.data : null;
  const choose = (k: number) => {
    setChosen(k);
    const block = drawing?.blocks[k];
    if (block?.file != null && block.line !== null) onPlace(block.file, block.line);
  };
  const block = chosen === null ? undefined : drawing?.blocks[chosen];
  const outputs = found.data?.outputs ?? [];
  return (
    <section aria-labelledby="structure-title" className="mt-8">
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h2 id="structure-title" className="text-lg font-bold">
          Structure
        </h2>
        <Choice
          label="Which drawing"
          value={view}
          options={[
            { value: "written", label: "As written" },
            { value: "mapped", label: "As look-up tables" },
          ]}
          onChange={(next) => {
            setChosen(null);
            setView(next);
          }}
        />
        {(outputs.length > 1 || output !== "") && (
          <label className="flex items-center gap-2 text-sm">
            drawn for
            <select
              className={`${CONTROL} mono mt-0! w-36!`}
              value={output}
              onChange={(e) => {
                setChosen(null);
                setOutput(e.target.value);
              }}
            >
              <option value="">all outputs</option>
              {outputs.map((name) => (
                <option key={name} value={name}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      {found.isPending && <Loading what="the structure" />}
      {found.isError && <ErrorNote error={found.error} />}
      {drawing !== undefined && (
        <>
          <div className="max-h-[36rem] overflow-auto border border-rule bg-sheet p-2">
            <StructureDrawing
              key={`${view} ${output}`}
              drawing={drawing}
              levels={levels}
              chosen={chosen}
              onChoose={choose}
            />
          </div>
          <p className="mt-1 text-sm text-ink-soft">
            {levels !== null && (
              <>
                {moment === null ? (
                  <>
                    Row <span className="mono">{row}</span>
                  </>
                ) : (
                  `${moment.cycle} clock edge${moment.cycle === 1 ? "" : "s"} after the start`
                )}
                : high wires are thick, low ones thin, unknown ones broken.
                {levels.of.length > 0 && (
                  <>
                    {" "}
                    The broad band marks what decides <span className="mono">{levels.of.join(", ")}</span>
                    {output === "" &&
                      (levels.of.length > 1 ? ", which are wrong here" : ", which is wrong here")}
                    .
                  </>
                )}{" "}
              </>
            )}
            Arrow keys go from symbol to symbol.
          </p>
          {block !== undefined && <Chosen block={block} levels={levels} />}
          <Symbols drawing={drawing} levels={levels} />
        </>
      )}
    </section>
  );
}
