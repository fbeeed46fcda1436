export { WavesPanel } from "./WavesPanel";
export { WavesSection } from "./WavesSection";
