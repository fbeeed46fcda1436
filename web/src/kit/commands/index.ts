export { fits, isPlain, isTyping } from "./keys";
export { type Command, offered, useAllCommands, useCommands } from "./registry";
