package dev.admit.core.expression;

import dev.cel.common.CelOptions;
import dev.cel.common.CelValidationException;
import dev.cel.common.types.CelType;
import dev.cel.compiler.CelCompiler;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.parser.CelStandardMacro;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelRuntime;
import dev.cel.runtime.CelRuntimeFactory;
import java.util.Map;

/** An expression in CEL over named values: it can reach nothing else, nor run for long. */
public final class Expression {
    private static final CelOptions OPTIONS = CelOptions.current().comprehensionMaxIterations(1_000).maxExpressionCodePointSize(1_000).maxParseRecursionDepth(50).build();

    /** Made when the first expression is: most services have none, and the library takes its time. */
    private static final class Cel {
        static final CelRuntime RUNTIME = CelRuntimeFactory.standardCelRuntimeBuilder().setOptions(OPTIONS).build();
    }

    private final CelRuntime.Program program;

    private Expression(CelRuntime.Program program) {
        this.program = program;
    }

    /** What is wrong with an expression, as a phrase. */
    public static final class Senseless extends Exception {
        public Senseless(String phrase) {
            super(phrase, null, false, false);
        }
    }

    /** Knows which values there are, and of what type; made once for all expressions of a kind. */
    public static final class Reader {
        private final CelCompiler compiler;

        /** @param result what the expression must come to; null for anything */
        public Reader(Map<String, CelType> values, CelType result) {
            CelCompilerBuilder builder = CelCompilerFactory.standardCelCompilerBuilder().setOptions(OPTIONS).setStandardMacros(CelStandardMacro.STANDARD_MACROS);
            values.forEach(builder::addVar);
            if (result != null) builder.setResultType(result);
            this.compiler = builder.build();
        }

        /** @throws Senseless when it is no expression over what there is */
        public Expression read(String text) throws Senseless {
            try {
                return new Expression(Cel.RUNTIME.createProgram(compiler.compile(text).getAst()));
            } catch (CelValidationException wrong) {
                throw new Senseless(wrong.getErrors().isEmpty() ? "one that cannot be read" : wrong.getErrors().getFirst().getMessage().strip());
            } catch (CelEvaluationException | RuntimeException wrong) {
                throw new Senseless("one that cannot be read");
            }
        }
    }

    /** @throws Senseless when it comes to nothing, because a value that it wants is not there */
    public Object on(Map<String, Object> values) throws Senseless {
        try {
            return program.eval(values);
        } catch (CelEvaluationException | RuntimeException wrong) {
            throw new Senseless(String.valueOf(wrong.getMessage()).replaceFirst("^evaluation error[^:]*: ", ""));
        }
    }
}
