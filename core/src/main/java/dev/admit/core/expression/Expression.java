package dev.admit.core.expression;

import dev.cel.common.CelAbstractSyntaxTree;
import dev.cel.common.CelOptions;
import dev.cel.common.CelValidationException;
import dev.cel.common.types.CelType;
import dev.cel.compiler.CelCompiler;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.parser.CelStandardMacro;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelFunctionBinding;
import dev.cel.runtime.CelRuntime;
import dev.cel.runtime.CelRuntimeFactory;
import dev.cel.runtime.CelStandardFunctions;
import dev.cel.runtime.CelStandardFunctions.StandardFunction.Overload.Arithmetic;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * An expression in CEL over named values. It can reach nothing else, and is bounded three times: by how often it may
 * copy what it is given, when it is read; by its turns and by what it makes, each time.
 */
public final class Expression {
    private static final int LONGEST_SAID = 200;
    static final int MOST_COPIES = 64;
    private static final CelOptions OPTIONS = CelOptions.current()
            .comprehensionMaxIterations(1_000)
            .maxExpressionCodePointSize(1_000)
            .maxParseRecursionDepth(50)
            .build();

    /** Made when the first expression is: most services have none, and the library takes its time. */
    private static final class Cel {
        private static final Set<CelStandardFunctions.StandardOverload> GROWING =
                Set.of(Arithmetic.ADD_STRING, Arithmetic.ADD_BYTES, Arithmetic.ADD_LIST);
        /**
         * All that the standard has, but that what grows is counted; joining bytes, which nobody needs, is left out.
         */
        static final CelRuntime RUNTIME = CelRuntimeFactory.standardCelRuntimeBuilder()
                .setOptions(OPTIONS)
                .setStandardEnvironmentEnabled(false)
                .setStandardFunctions(CelStandardFunctions.newBuilder()
                        .filterFunctions((function, overload) -> !GROWING.contains(overload))
                        .build())
                .addFunctionBindings(
                        CelFunctionBinding.from("add_string", String.class, String.class, (one, other) -> {
                            Made.count((long) one.length() + other.length());
                            return one + other;
                        }),
                        CelFunctionBinding.from("add_list", List.class, List.class, Cel::joined))
                .build();

        private static List<Object> joined(List<?> one, List<?> other) {
            Made.count(one.size() + (long) other.size());
            List<Object> all = new ArrayList<>(one.size() + other.size());
            all.addAll(one);
            all.addAll(other);
            return all;
        }
    }

    /** How much one evaluation has made, in characters and elements; what was made and dropped again counts as well. */
    private static final class Made {
        private static final long MOST = 2_000_000;
        private static final ThreadLocal<long[]> SO_FAR = new ThreadLocal<>();

        static void count(long more) {
            long[] soFar = SO_FAR.get();
            if (soFar == null) return; // while it is compiled, constants are joined
            soFar[0] += more;
            if (soFar[0] > MOST) throw new TooMuch();
        }

        private static final class TooMuch extends RuntimeException {
            TooMuch() {
                super("it makes more than %d characters".formatted(MOST), null, false, false);
            }
        }
    }

    private final CelRuntime.Program program;

    private Expression(CelRuntime.Program program) {
        this.program = program;
    }

    /** What is wrong with an expression, as a phrase. */
    public static final class Senseless extends Exception {
        private final String phrase;

        public Senseless(@Nullable String phrase) {
            super(phrase, null, false, false);
            this.phrase = phrase == null ? "it has no value" : phrase;
        }

        /** What is wrong with it, as the end of a sentence. */
        public String phrase() {
            return phrase;
        }
    }

    /** Knows which values there are, and of what type; made once for all expressions of a kind. */
    public static final class Reader {
        private final CelCompiler compiler;

        /** @param result what the expression must come to; null for anything */
        public Reader(Map<String, CelType> values, @Nullable CelType result) {
            CelCompilerBuilder builder = CelCompilerFactory.standardCelCompilerBuilder()
                    .setOptions(OPTIONS)
                    .setStandardMacros(CelStandardMacro.STANDARD_MACROS);
            values.forEach(builder::addVar);
            if (result != null) builder.setResultType(result);
            this.compiler = builder.build();
        }

        /** @throws Senseless when it is no expression over what there is */
        public Expression read(String text) throws Senseless {
            try {
                CelAbstractSyntaxTree tree = compiler.compile(text).getAst();
                long copies = Growth.of(tree.getExpr());
                if (copies > MOST_COPIES)
                    throw new Senseless("one that makes up to %d copies of what it is given; at most %d are taken"
                            .formatted(copies, MOST_COPIES));
                return new Expression(Cel.RUNTIME.createProgram(tree));
            } catch (CelValidationException wrong) {
                throw new Senseless(
                        wrong.getErrors().isEmpty()
                                ? "one that cannot be read"
                                : wrong.getErrors().getFirst().getMessage().strip());
            } catch (CelEvaluationException | RuntimeException wrong) {
                throw new Senseless("one that cannot be read");
            }
        }
    }

    /** @throws Senseless when it comes to nothing, because a value that it wants is not there */
    public Object on(Map<String, Object> values) throws Senseless {
        Made.SO_FAR.set(new long[1]);
        try {
            return program.eval(values);
        } catch (StackOverflowError tooDeep) {
            throw new Senseless("it goes too deep");
        } catch (CelEvaluationException | RuntimeException wrong) {
            throw new Senseless(said(wrong));
        } finally {
            Made.SO_FAR.remove();
        }
    }

    /** Without what it was given, which may be long, and is not for everybody to read. */
    private static @Nullable String said(Exception wrong) {
        for (Throwable at = wrong; at != null; at = at.getCause())
            if (at instanceof Made.TooMuch) return at.getMessage();
        String message = String.valueOf(wrong.getMessage())
                .replaceFirst("^evaluation error[^:]*: ", "")
                .replaceFirst("(?s) with arg\\(s\\).*", "");
        return message.length() > LONGEST_SAID ? message.substring(0, LONGEST_SAID) + "…" : message;
    }
}
