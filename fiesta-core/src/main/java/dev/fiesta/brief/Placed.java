package dev.fiesta.brief;

import dev.fiesta.language.BriefTree;
import java.nio.file.Path;

/** A brief and the folder where its relative paths start. */
public record Placed(BriefTree brief, Path folder) {}
