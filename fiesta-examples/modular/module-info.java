/** A program of modules that works figures out; its records are open to Fiesta, which reads and makes them. */
module ribera.takings {
    requires dev.fiesta;

    opens ribera.takings to
            dev.fiesta;
}
