import { z } from "zod";

// The policy of every page forbids making code from words; without this the browser's console says so.
z.config({ jitless: true });

export { z };
