package dev.admit.server.pages;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Markdown that nobody has checked becomes text, links and tables, and nothing that acts. */
class MarkdownTest {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "<script>alert(1)</script>",
                "<img src=x onerror=alert(1)>",
                "[press](javascript:alert(1))",
                "[press](JaVaScRiPt&#58;alert(1))",
                "[press](data:text/html;base64,PHNjcmlwdD4=)",
                "![a picture](https://elsewhere.example/seen.png)",
                "<a href=\"https://x.example\" onclick=\"alert(1)\">press</a>",
                "<style>body{display:none}</style>",
                "<iframe src=\"https://x.example\"></iframe>",
                "<form action=\"/harbour/sign-out\" method=\"post\"><button>press</button></form>",
                "<https://x.example/\"onmouseover=\"alert(1)>",
                "`<b onclick=alert(1)>`",
                "[press][it]\n\n[it]: javascript:alert(1)"
            })
    void nothingOfItActs(String markdown) {
        assertThat(Markdown.html(markdown).toLowerCase(java.util.Locale.ROOT))
                .doesNotContain("<script", "<img", "<iframe", "<style", "<form", "<button", "<b ")
                .doesNotContainPattern("<[^>]*\\son\\w+=")
                .doesNotContainPattern("href=\"(javascript|data)");
    }

    @Test
    void textListsTablesCodeAndLinksStand() {
        String html = Markdown.html("""
                # Begin

                1. Fetch a **token**.

                | hour | what |
                | :-- | --- |
                | full | `heights` |

                [More](https://tides.saltmarsh.example/more)
                """);
        assertThat(html)
                .contains("<h3>Begin</h3>", "<strong>token</strong>", "<td align=\"left\">full</td>")
                .contains("<code>heights</code>", "href=\"https://tides.saltmarsh.example/more\"")
                .contains("nofollow", "noopener", "noreferrer");
    }

    @ParameterizedTest
    @ValueSource(strings = {"> ", "- ", "*a _b ", "[", "![[", "`", "<", "| a "})
    void nestingWithoutEndIsShownAndEnds(String part) {
        String long_ = part.repeat(40_000 / part.length());
        assertThat(Markdown.html(long_)).isNotNull();
        assertThat(Markdown.beginning(long_).length()).isLessThan(300);
    }

    @Test
    void theBeginningIsOneLineOfWholeWords() {
        assertThat(Markdown.beginning("# Tides\n\nHeights of **every** gauge."))
                .isEqualTo("Tides Heights of every gauge.");
        assertThat(Markdown.beginning("word ".repeat(100))).endsWith("word …").hasSizeLessThan(250);
    }
}
