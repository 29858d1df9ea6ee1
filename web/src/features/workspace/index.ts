export { WorkspacePage } from "./Workspace";
