import { Link } from "react-router";
import { Empty } from "@/kit/notes";

export function NotFoundScreen() {
  return (
    <Empty title="There is no such page">
      <Link className="underline" to="/">
        Go to the pass sheet
      </Link>
    </Empty>
  );
}
