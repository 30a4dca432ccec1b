import { enforce } from "./enforcement.ts";

enforce(2, 3);
