import type { Topic } from "../telling/choices.ts";
import type { Asks } from "./event.ts";

const TOPIC_OF: Record<Asks, Topic> = {
  decision: "decide",
  mending: "mend",
  work: "work",
  look: "look",
  nothing: "know",
  week: "week",
};

/** What an event that asks so much of somebody is about. @param remark whether it was said in a remark */
export const topicOf = (asks: Asks, remark: boolean): Topic => (remark ? "remarks" : TOPIC_OF[asks]);
