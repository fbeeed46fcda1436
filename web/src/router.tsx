import { createBrowserRouter } from "react-router";
import { AccountScreen, JoinScreen, PasswordScreen } from "@/screens/ComingIn";
import { CourseHome } from "@/screens/CourseHome";
import { CrashScreen } from "@/screens/CrashScreen";
import { ExerciseScreen } from "@/screens/ExerciseScreen";
import { HandInScreen } from "@/screens/HandInScreen";
import { NotFoundScreen } from "@/screens/NotFoundScreen";
import { PassSheetScreen } from "@/screens/PassSheetScreen";
import { Shell } from "@/screens/Shell";

export const router = createBrowserRouter([
  {
    path: "/",
    Component: Shell,
    ErrorBoundary: CrashScreen,
    children: [
      { index: true, Component: CourseHome },
      { path: "courses/:course", Component: PassSheetScreen },
      {
        path: "courses/:course/people",
        lazy: async () => ({ Component: (await import("@/screens/PeopleScreen")).PeopleScreen }),
      },
      {
        path: "courses/:course/audit",
        lazy: async () => ({ Component: (await import("@/screens/AuditScreen")).AuditScreen }),
      },
      { path: "account", Component: AccountScreen },
      // Who comes by a link or a code is not signed in yet.
      { path: "join", handle: { isPublic: true }, Component: JoinScreen },
      { path: "join/:code", handle: { isPublic: true }, Component: JoinScreen },
      { path: "password/:token", handle: { isPublic: true }, Component: PasswordScreen },
      { path: "courses/:course/exercises/:exercise", Component: ExerciseScreen },
      {
        path: "courses/:course/exercises/:exercise/workings",
        lazy: async () => ({ Component: (await import("@/screens/WorkingsScreen")).WorkingsScreen }),
      },
      {
        path: "courses/:course/exercises/:exercise/handout",
        lazy: async () => ({ Component: (await import("@/screens/HandoutScreen")).HandoutScreen }),
      },
      {
        path: "courses/:course/exercises/:exercise/key",
        lazy: async () => ({ Component: (await import("@/screens/KeyScreen")).KeyScreen }),
      },
      {
        path: "courses/:course/exercises/:exercise/pad",
        lazy: async () => ({ Component: (await import("@/screens/PadScreen")).PadScreen }),
      },
      {
        path: "courses/:course/tools",
        lazy: async () => ({ Component: (await import("@/screens/ToolsScreen")).ToolsScreen }),
      },
      {
        path: "about",
        handle: { isPublic: true },
        lazy: async () => ({ Component: (await import("@/screens/AboutScreen")).AboutScreen }),
      },
      {
        path: "help/findings",
        lazy: async () => ({ Component: (await import("@/screens/CodesScreen")).CodesScreen }),
      },
      { path: "courses/:course/hand-ins/:handIn", Component: HandInScreen },
      {
        path: "courses/:course/hand-ins/:handIn/report",
        lazy: async () => ({ Component: (await import("@/screens/ReportScreen")).ReportScreen }),
      },
      { path: "*", Component: NotFoundScreen },
    ],
  },
]);
