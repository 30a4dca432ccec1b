import { enforce } from "./enforcement.ts";

enforce(1, 3);
