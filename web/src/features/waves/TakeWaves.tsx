import { useMutation } from "@tanstack/react-query";
import type { Lane } from "@/api/schema";
import { Button } from "@/kit/Button";
import { download, downloadFrom } from "@/kit/download";
import { ErrorNote } from "@/kit/notes";
import { valueAt } from "./model";

/** A line for each time at which something changes: the time in nanoseconds and the bits of every lane. */
export function csvOf(lanes: Lane[]): string {
  const field = (text: string) => (/[",]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
  const name = (l: Lane) => (l.role === "expected" ? `expected ${l.name}` : [...l.scopes, l.name].join("."));
  const times = [...new Set(lanes.flatMap((l) => l.times))].sort((a, b) => a - b);
  const head = ["time_ns", ...lanes.map((l) => field(name(l)))].join();
  const lines = times.map((t) => [Number((t / 1e6).toFixed(6)), ...lanes.map((l) => valueAt(l, t))].join());
  return `${[head, ...lines].join("\n")}\n`;
}

/** A picture as pixels, twice as fine as it is large. */
function pixels(svg: string): Promise<string> {
  return new Promise((resolve, reject) => {
    const image = new Image();
    image.onload = () => {
      const canvas = document.createElement("canvas");
      canvas.width = image.width * 2;
      canvas.height = image.height * 2;
      canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
      resolve(canvas.toDataURL("image/png"));
    };
    image.onerror = () => reject(new Error("The picture could not be drawn."));
    image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  });
}

/** Waves as a table and as pictures. */
export function TakeWaves({ lanes, picture }: { lanes: Lane[]; picture: () => Promise<string> }) {
  const svg = useMutation({
    mutationFn: picture,
    onSuccess: (text) => download("waves.svg", "image/svg+xml", text),
  });
  const png = useMutation({
    mutationFn: async () => pixels(await picture()),
    onSuccess: (address) => downloadFrom("waves.png", address),
  });
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="text-sm text-ink-soft">Take elsewhere:</span>
      <Button onClick={() => download("waves.csv", "text/csv", csvOf(lanes))}>CSV</Button>
      <Button disabled={svg.isPending} onClick={() => svg.mutate()}>
        SVG
      </Button>
      <Button disabled={png.isPending} onClick={() => png.mutate()}>
        PNG
      </Button>
      {(svg.isError || png.isError) && <ErrorNote error={svg.error ?? png.error} />}
    </div>
  );
}
