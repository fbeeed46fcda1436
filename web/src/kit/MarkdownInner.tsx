import ReactMarkdown from "react-markdown";

/** The part of `Markdown` that is read when it is needed. */
export default function MarkdownInner({ text }: { text: string }) {
  return (
    <div className="statement max-w-[68ch]">
      <ReactMarkdown
        disallowedElements={["img"]}
        components={{
          a: ({ href, children }) => (
            <a href={href} rel="noopener noreferrer" target="_blank" className="underline">
              {children}
            </a>
          ),
        }}
      >
        {text}
      </ReactMarkdown>
    </div>
  );
}
