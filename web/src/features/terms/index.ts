export { Explained } from "./Explained";
