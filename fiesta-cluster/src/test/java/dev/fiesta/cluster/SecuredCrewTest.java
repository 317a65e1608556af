package dev.fiesta.cluster;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Members who know each other by certificates, and strangers. */
class SecuredCrewTest {
    private static final String PASSWORD = "ribera-2026";
    private static final String QUESTION = Crowd.QUESTIONS.get(0);

    @TempDir
    private Path folder;

    private void keytool(String... args) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString()));
        command.addAll(List.of(args));
        command.addAll(List.of("-storepass", PASSWORD, "-storetype", "PKCS12"));
        Process process = new ProcessBuilder(command)
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("keytool.log").toFile())
                .start();
        assertThat(process.waitFor())
                .as(Files.readString(folder.resolve("keytool.log")))
                .isZero();
    }

    /** A key with its certificate, and what trusts it. */
    private void keys(String name) throws IOException, InterruptedException {
        keytool("-genkeypair", "-alias", name, "-keyalg", "EC", "-dname", "CN=" + name, "-keystore", name + ".p12");
        keytool("-exportcert", "-alias", name, "-keystore", name + ".p12", "-file", name + ".cer");
    }

    private void trust(String store, String name) throws IOException, InterruptedException {
        keytool("-importcert", "-noprompt", "-alias", name, "-keystore", store + ".p12", "-file", name + ".cer");
    }

    /** The crew's file with other certificates; the password comes from a variable that every shell has under another name here. */
    private Path conf(String name, String security) throws IOException {
        Path conf = Crowd.conf(folder, security);
        return Files.move(conf, folder.resolve(name + ".conf"));
    }

    @Test
    void strangersAreNotHeard() throws IOException, InterruptedException {
        Crowd.write(folder, 30_000);
        keys("member");
        keys("stranger");
        trust("crew", "member");
        trust("all", "member");
        trust("all", "stranger");
        String password = "password from environment FIESTA_TEST_CREW\n";
        Path secured = conf("secured", "keys member.p12\ntrusted crew.p12\n" + password);
        Path strange = conf("strange", "keys stranger.p12\ntrusted all.p12\n" + password);
        Path open = conf("open", "");
        try (Members members = new Members(secured, Map.of("FIESTA_TEST_CREW", PASSWORD))) {
            Process member = members.start();
            assertThat(member.isAlive()).as(members.said(0)).isTrue();
            assertThat(asked(secured)).isEqualTo(Crowd.answer(folder, QUESTION, null));
            assertThat(asked(strange)).startsWith("No member of the crew answers at 127.0.0.1");
            try (ClusterCrew unsecured = ClusterCrew.of(CrewFile.read(open))) {
                assertThatThrownBy(() -> Crowd.answer(folder, QUESTION, unsecured))
                        .isInstanceOf(MachineException.class)
                        .hasMessageStartingWith("No member of the crew answers at 127.0.0.1");
            }
            assertThat(member.isAlive()).isTrue();
        }
    }

    /** What is placed for a run is read, also by those who may not read the file it comes from. */
    @Test
    void membersReadWhatTheyMay() throws IOException, InterruptedException {
        Crowd.write(folder, 30_000);
        Path confined = conf("confined", "may-read lists\n");
        try (Members members = new Members(confined, Map.of());
                ClusterCrew crew = ClusterCrew.of(CrewFile.read(confined))) {
            members.start();
            assertThat(members.said(0)).startsWith("there: ");
            String packed = Crowd.PACKED + QUESTION;
            assertThat(Crowd.answer(folder, packed, crew)).isEqualTo(Crowd.answer(folder, packed, null));
            assertThat(crew.isUsed()).isTrue();
            assertThatThrownBy(() -> Crowd.answer(folder, QUESTION, crew))
                    .isInstanceOf(MachineException.class)
                    .hasMessageContaining("may not");
        }
    }

    /** What a process gets to know that asks a crew; it is told the password as members are. */
    private String asked(Path conf) throws IOException, InterruptedException {
        Path log = folder.resolve("asked-" + conf.getFileName() + ".log");
        Process asking = Members.java(
                Map.of("FIESTA_TEST_CREW", PASSWORD), log, Asking.class.getName(), folder.toString(), conf.toString());
        assertThat(asking.waitFor()).isZero();
        return Files.readString(log).strip();
    }

    /** Asks one question. */
    static final class Asking {
        private Asking() {}

        public static void main(String[] args) {
            try (ClusterCrew crew = ClusterCrew.of(CrewFile.read(Path.of(args[1])))) {
                System.out.println(Crowd.answer(Path.of(args[0]), QUESTION, crew));
            } catch (MachineException e) {
                System.out.println(e.getMessage());
            }
            System.exit(0);
        }
    }
}
