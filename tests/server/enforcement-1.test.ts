import { enforce } from "./enforcement.ts";

enforce(0, 3);
