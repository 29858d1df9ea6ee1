export { Shelf } from "./Shelf";
