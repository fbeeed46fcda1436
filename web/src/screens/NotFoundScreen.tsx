import { Link } from "react-router";
import { Empty } from "@/kit/notes";

export function NotFoundScreen() {
  return (
    <Empty title="This page doesn't exist">
      <Link className="underline" to="/">
        Go to the pass sheet
      </Link>
    </Empty>
  );
}
