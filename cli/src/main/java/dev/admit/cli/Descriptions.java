package dev.admit.cli;

import com.github.therapi.runtimejavadoc.Comment;
import com.github.therapi.runtimejavadoc.CommentFormatter;
import com.github.therapi.runtimejavadoc.ParamJavadoc;
import com.github.therapi.runtimejavadoc.RuntimeJavadoc;
import dev.admit.contract.OneOf;
import java.util.Arrays;
import java.util.List;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import picocli.CommandLine.Help;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;

/**
 * What options say that stand for a member of the admin API: {@code {ClientWanted.contacts}} in a description is the
 * sentence of that member, so that it is written once, in its record. Looked up when help is shown, and not before.
 */
final class Descriptions {
    private static final Pattern MEMBER = Pattern.compile("\\{([A-Z]\\w+)\\.(\\w+)}");
    private static final CommentFormatter WORDS = new CommentFormatter();

    private Descriptions() {}

    /** Help in which options speak with the sentences of their members. */
    static Help help(CommandSpec command, Help.ColorScheme colours) {
        List.copyOf(command.options()).stream().filter(Descriptions::isOfMember).forEach(option -> {
            OptionSpec told = OptionSpec.builder(option)
                    .description(Arrays.stream(option.description())
                            .map(Descriptions::told)
                            .toArray(String[]::new))
                    .build();
            command.remove(option);
            command.addOption(told);
        });
        return new Help(command, colours);
    }

    private static boolean isOfMember(OptionSpec option) {
        return Arrays.stream(option.description())
                .anyMatch(it -> MEMBER.matcher(it).find());
    }

    /** @throws IllegalStateException when there is no such member, or it says nothing */
    static String told(String description) {
        return MEMBER.matcher(description)
                .replaceAll(member -> Matcher.quoteReplacement(
                        (member.start() == 0 && !beginsWithWord(member) ? capital(sentence(member)) : sentence(member))
                                .replace("%", "%%")));
    }

    private static String capital(String sentence) {
        return Character.toUpperCase(sentence.charAt(0)) + sentence.substring(1);
    }

    /** Whether its sentence begins with one of the words that it may be, which are written as they are. */
    private static boolean beginsWithWord(MatchResult member) {
        String first = sentence(member).split("[ ,:;]", 2)[0];
        return Arrays.stream(record(member).getRecordComponents())
                .filter(it -> it.getName().equals(member.group(2)))
                .map(it -> it.getAnnotation(OneOf.class))
                .anyMatch(words -> words != null && List.of(words.value()).contains(first));
    }

    private static Class<?> record(MatchResult member) {
        try {
            return Class.forName("dev.admit.contract." + member.group(1));
        } catch (ClassNotFoundException none) {
            throw new IllegalStateException(member.group() + " is in no record", none);
        }
    }

    private static String sentence(MatchResult member) {
        Comment said = RuntimeJavadoc.getJavadoc(record(member)).getRecordComponents().stream()
                .filter(it -> it.getName().equals(member.group(2)))
                .findFirst()
                .map(ParamJavadoc::getComment)
                .orElseThrow(() -> new IllegalStateException(member.group() + " says nothing"));
        return WORDS.format(said).replaceAll("\\s+", " ").strip();
    }
}
