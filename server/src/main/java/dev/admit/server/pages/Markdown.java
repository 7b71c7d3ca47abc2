package dev.admit.server.pages;

import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import org.commonmark.ext.gfm.tables.TablesExtension;
import org.commonmark.node.BlockQuote;
import org.commonmark.node.FencedCodeBlock;
import org.commonmark.node.Heading;
import org.commonmark.node.IndentedCodeBlock;
import org.commonmark.node.ListBlock;
import org.commonmark.node.Node;
import org.commonmark.node.Text;
import org.commonmark.node.ThematicBreak;
import org.commonmark.parser.Parser;
import org.commonmark.parser.beta.InlineContentParser;
import org.commonmark.parser.beta.InlineContentParserFactory;
import org.commonmark.parser.beta.InlineParserState;
import org.commonmark.parser.beta.ParsedInline;
import org.commonmark.renderer.html.HtmlRenderer;
import org.commonmark.renderer.text.TextContentRenderer;
import org.owasp.html.HtmlPolicyBuilder;
import org.owasp.html.PolicyFactory;
import org.springframework.web.util.HtmlUtils;

/**
 * Makes HTML of Markdown that nobody has checked. Markup in it is shown as text, and what is left goes through a list
 * of what may stand in a page: text, headings, lists, tables, code, and links to the web or for mail.
 */
final class Markdown {
    private static final List<TablesExtension> TABLES = List.of((TablesExtension) TablesExtension.create());
    private static final Parser PARSER = Parser.builder()
            .extensions(TABLES)
            .maxOpenBlockParsers(20)
            .enabledBlockTypes(Set.of(
                    Heading.class,
                    BlockQuote.class,
                    ListBlock.class,
                    FencedCodeBlock.class,
                    IndentedCodeBlock.class,
                    ThematicBreak.class))
            .customInlineContentParserFactory(new NoMarkup())
            .build();
    private static final HtmlRenderer HTML = HtmlRenderer.builder()
            .extensions(TABLES)
            .escapeHtml(true)
            .sanitizeUrls(true)
            .build();
    private static final TextContentRenderer TEXT =
            TextContentRenderer.builder().extensions(TABLES).build();
    private static final PolicyFactory MAY_STAND = new HtmlPolicyBuilder()
            .allowElements(
                    "p",
                    "br",
                    "hr",
                    "h3",
                    "h4",
                    "h5",
                    "h6",
                    "ul",
                    "ol",
                    "li",
                    "blockquote",
                    "pre",
                    "code",
                    "em",
                    "strong",
                    "a",
                    "table",
                    "thead",
                    "tbody",
                    "tr",
                    "th",
                    "td")
            // Headings of ours stand above theirs.
            .allowElements((name, attributes) -> name.equals("h1") ? "h3" : "h4", "h1", "h2")
            .allowUrlProtocols("https", "http", "mailto")
            .allowAttributes("href")
            .onElements("a")
            .allowAttributes("align")
            .matching(Pattern.compile("left|right|center"))
            .onElements("th", "td")
            .requireRelsOnLinks("nofollow", "noopener", "noreferrer")
            .toFactory();
    private static final int DEEPEST = 50;
    private static final int SHORT = 240;
    private static final int LONGEST = 40_000;

    private Markdown() {}

    /** Takes an angle bracket for what it is: looking for where markup ends costs time for each of many brackets. */
    private static final class NoMarkup implements InlineContentParserFactory, InlineContentParser {
        @Override
        public Set<Character> getTriggerCharacters() {
            return Set.of('<');
        }

        @Override
        public InlineContentParser create() {
            return this;
        }

        @Override
        public ParsedInline tryParse(InlineParserState state) {
            state.scanner().next();
            return ParsedInline.of(new Text("<"), state.scanner().position());
        }
    }

    /** @param said cut where it is longer than any text of ours: a document of an API may say what it likes */
    static String html(String said) {
        if (said.isBlank()) return "";
        String markdown = said.length() <= LONGEST ? said : said.substring(0, LONGEST) + " …";
        Node parsed = PARSER.parse(markdown);
        return isDeep(parsed)
                ? "<pre>" + HtmlUtils.htmlEscape(markdown) + "</pre>"
                : MAY_STAND.sanitize(HTML.render(parsed));
    }

    /** Emphasis within emphasis has no end either, and is rendered by recursion. */
    private static boolean isDeep(Node root) {
        int depth = 0;
        Node at = root;
        while (true) {
            if (at.getFirstChild() != null) {
                at = at.getFirstChild();
                if (++depth > DEEPEST) return true;
                continue;
            }
            while (at.getNext() == null) {
                if (at == root || at.getParent() == root || at.getParent() == null) return false;
                at = at.getParent();
                depth--;
            }
            at = at.getNext();
        }
    }

    /** The beginning of it, as text on one line. */
    static String beginning(String markdown) {
        Node parsed = PARSER.parse(markdown.length() <= LONGEST ? markdown : markdown.substring(0, LONGEST));
        String text = (isDeep(parsed) ? markdown : TEXT.render(parsed))
                .replaceAll("\\s+", " ")
                .strip();
        if (text.length() <= SHORT) return text;
        int end = text.lastIndexOf(' ', SHORT);
        return text.substring(0, end < 1 ? text.offsetByCodePoints(0, SHORT / 2) : end) + " …";
    }
}
