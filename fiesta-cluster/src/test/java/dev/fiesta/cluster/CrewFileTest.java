package dev.fiesta.cluster;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CrewFileTest {
    @TempDir
    private Path folder;

    private CrewFile read(String text) throws IOException {
        Path file = folder.resolve("crew.conf");
        Files.writeString(file, text.replace("|", "\n"));
        return CrewFile.read(file);
    }

    @Test
    void whatStandsInIt() throws IOException {
        CrewFile crew = read(
                "# ours|members 10.0.0.11, 10.0.0.12:5000..5003 # two|folder shared|may-read /data, more|"
                        + "keys own.p12|trusted all.p12|password from environment SECRET|memory 2g|threads 4|task 64m|alone-below 0");
        assertThat(crew.members())
                .containsExactly(
                        new CrewFile.Place("10.0.0.11", 47500, 47500), new CrewFile.Place("10.0.0.12", 5000, 5003));
        assertThat(crew.folder()).isEqualTo(folder.resolve("shared"));
        assertThat(crew.mayRead()).containsExactly(Path.of("/data"), folder.resolve("more"));
        assertThat(crew.keys()).isEqualTo(folder.resolve("own.p12"));
        assertThat(crew.trusted()).isEqualTo(folder.resolve("all.p12"));
        assertThat(crew.passwordVariable()).isEqualTo("SECRET");
        assertThat(crew.memory()).isEqualTo(2L << 30);
        assertThat(crew.threads()).isEqualTo(4);
        assertThat(crew.task()).isEqualTo(64L << 20);
        assertThat(crew.alone()).isZero();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '@',
            value = {
                "members a@ 'crew.conf' has no line 'folder': one that all machines of the crew see.",
                "folder a@ 'crew.conf' has no line 'members': where they listen, such as 10.0.0.11:47500, 10.0.0.12:47500.",
                "member a@ crew.conf, line 1: member: no setting of a crew. Did you mean 'members'?",
                "folder a|folder b@ crew.conf, line 2: folder: it stands twice",
                "folder a|members@ crew.conf, line 2: members: its value is missing",
                "folder a|members b:99999@ crew.conf, line 2: members: 'b:99999' is no address; write for instance 10.0.0.11:47500",
                "folder a|members b|memory much@ crew.conf, line 3: memory: 'much' is no size; write for instance 512m or 2g",
                "folder a|members b|password secret@ crew.conf, line 3: password: write 'from environment' and the name of a "
                        + "variable; no password stands here"
            })
    void whatCannotBeRight(String text, String message) {
        assertThatThrownBy(() -> read(text))
                .isInstanceOf(RequestException.class)
                .hasMessage(message);
    }

    @Test
    void aFileThatIsNotThere() {
        assertThatThrownBy(() -> CrewFile.read(folder.resolve("none.conf")))
                .isInstanceOf(RequestException.class)
                .hasMessageEndingWith("cannot be read: it tells who belongs to a crew, in plain UTF-8 text.");
    }

    @Test
    void otherMachinesNeedCertificates() throws IOException {
        CrewFile crew = read("members 192.0.2.1|folder shared");
        assertThatThrownBy(() -> MemberNode.join(crew, Encryption.NEEDED))
                .isInstanceOf(RequestException.class)
                .hasMessage("The crew at 192.0.2.1:47500 is on other machines and has no certificates: name 'keys' and "
                        + "'trusted' in its file, or say --insecure on every machine.");
        CrewFile keyed = read("members 192.0.2.1|folder shared|keys a.p12|trusted b.p12");
        assertThatThrownBy(() -> MemberNode.join(keyed, Encryption.NEEDED))
                .isInstanceOf(RequestException.class)
                .hasMessage(
                        "The crew has certificates but no password for them: add 'password from environment NAME'.");
        CrewFile unset =
                read("members 192.0.2.1|folder shared|keys a.p12|trusted b.p12|password from environment NOT_SET_1");
        assertThatThrownBy(() -> MemberNode.join(unset, Encryption.NEEDED))
                .isInstanceOf(RequestException.class)
                .hasMessage("The variable NOT_SET_1, which holds the password of the crew's certificates, is not set.");
    }

    @Test
    void namesLeadNowhereElse() {
        assertThatThrownBy(() -> RunFolder.named("../other"))
                .isInstanceOf(RequestException.class)
                .hasMessage("'../other' is no name of a run or of its files.");
        assertThatThrownBy(() -> RunFolder.open(folder, "run-00000000"))
                .isInstanceOf(RequestException.class)
                .hasMessageStartingWith("There is no run 'run-00000000' to go on with in ");
    }

    @Test
    void aRunThatGoesOnIsNotTakenFromItsOwner() {
        try (RunFolder own = RunFolder.open(folder, null)) {
            String name = own.name();
            assertThatThrownBy(() -> RunFolder.open(folder, name))
                    .isInstanceOf(RequestException.class)
                    .hasMessage("The run '" + name + "' still goes on.");
            assertThat(own.file("answer-1").getParent()).exists();
        }
        assertThat(folder).isEmptyDirectory();
    }

    @Test
    void aFolderThatIsNone() throws IOException {
        Path file = Files.writeString(folder.resolve("file"), "");
        assertThatThrownBy(() -> RunFolder.open(file, null))
                .isInstanceOf(MachineException.class)
                .hasMessageStartingWith("The folder of the crew, '" + file + "', cannot be written");
    }
}
