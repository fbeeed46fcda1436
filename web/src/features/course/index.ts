export { AuditView } from "./AuditView";
export { CourseSheet } from "./CourseSheet";
export { CourseTabs } from "./CourseTabs";
