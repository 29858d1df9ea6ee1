export { Flow } from "./Flow";
export { Places } from "./Places";
export { usePicked } from "./picked";
