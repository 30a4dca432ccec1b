import { index, layout, prefix, type RouteConfig, route } from "@react-router/dev/routes";

export default [
  route("sign-in", "routes/sign-in.tsx"),
  route("sign-out", "routes/sign-out.ts"),
  layout("routes/frame.tsx", [
    index("routes/home.ts"),
    route("turn", "routes/turn.tsx"),
    route("pieces", "routes/pieces.tsx"),
    route("pieces/new", "routes/piece-new.tsx"),
    route("pieces/:slug", "routes/piece.tsx"),
    route("schedule", "routes/schedule.tsx"),
    route("workflows", "routes/workflows.tsx"),
    route("workflows/:key", "routes/studio.tsx"),
    route("notices", "routes/notices.tsx"),
  ]),
  route("find", "routes/find.ts"),
  route("pieces/:slug/save", "routes/piece-save.ts"),
  route("workflows/:key/save", "routes/studio-save.ts"),
  route("workflows/:key/document", "routes/workflow-document.ts"),
  ...prefix("read", [
    layout("routes/reader.tsx", [index("routes/read.tsx"), route(":slug", "routes/read-piece.tsx")]),
    route("feed.atom", "routes/feed-atom.ts"),
    route("feed.json", "routes/feed-json.ts"),
  ]),
  ...prefix("standins", [
    route("post", "routes/standin-post.tsx"),
    route("post.json", "routes/standin-post-json.ts"),
    route("clock", "routes/standin-clock.tsx"),
  ]),
  route("*", "routes/nothing.tsx"),
] satisfies RouteConfig;
