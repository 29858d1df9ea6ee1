export { DrawerPage } from "./Drawer";
