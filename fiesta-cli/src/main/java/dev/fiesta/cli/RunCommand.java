package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(name = "run", description = "Runs a brief.")
final class RunCommand implements Callable<Integer> {
    @Parameters(paramLabel = "BRIEF")
    Path brief;

    @Option(names = "--set")
    Map<String, String> set = new LinkedHashMap<>();

    @Option(names = "--out")
    Path out;

    @Option(names = "--as")
    String as;

    @Override
    public Integer call() throws Exception {
        Fiesta fiesta = Fiesta.open();
        BriefText text = new BriefText(brief.getFileName().toString(), Files.readString(brief));
        Tables tables = fiesta.tables(Parser.brief(text), brief.toAbsolutePath().getParent(), set);
        Map<String, Result> results = tables.run(tables.outputs());
        for (Result result : results.values()) {
            result.writeCsv(out.resolve(result.name() + ".csv"));
        }
        return 0;
    }
}
