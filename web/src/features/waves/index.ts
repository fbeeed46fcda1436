export { DumpView } from "./DumpView";
export { PrintedWaves } from "./PrintedWaves";
export { WavesPanel } from "./WavesPanel";
export { WavesSection } from "./WavesSection";
