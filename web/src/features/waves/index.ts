export { WaveView } from "./WaveView";
