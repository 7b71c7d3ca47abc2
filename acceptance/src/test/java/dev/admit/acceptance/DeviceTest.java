package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.acceptance.Visitor.Seen;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** The device grant (RFC 8628). */
@ResourceLock(Running.DEMO)
class DeviceTest {
    private static Running demo;
    private static String issuer;
    private static String kiosk;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        issuer = demo.ready().path("issuers").path("harbour").asString();
        kiosk = demo.ready()
                .path("clients")
                .path("ferry-kiosk")
                .path("client_id")
                .asString();
    }

    private static JsonNode begin(String scope) throws Exception {
        return Wire.form(issuer + "/device_authorization", null, "client_id=" + kiosk + "&scope=" + scope)
                .json();
    }

    private static Wire.Answer poll(JsonNode device, String client) throws Exception {
        return Wire.form(
                issuer + "/token",
                null,
                "grant_type=urn:ietf:params:oauth:grant-type:device_code&device_code=%s&client_id=%s"
                        .formatted(device.path("device_code").asString(), client));
    }

    @Test
    void aPersonApprovesWhatADeviceShows() throws Exception {
        JsonNode device = begin("tides.read");
        assertThat(device.path("user_code").asString())
                .as("easy to type")
                .matches("[BCDFGHJKLMNPQRSTVWXZ]{4}-[BCDFGHJKLMNPQRSTVWXZ]{4}");
        assertThat(poll(device, kiosk).json().path("error").asString()).isEqualTo("authorization_pending");
        assertThat(poll(device, kiosk).json().path("error").asString())
                .as("too soon")
                .isEqualTo("slow_down");
        Visitor tobias = new Visitor(demo);
        Visitor.signIn(tobias.get("/harbour/sign-in"), demo, "tobias");
        Seen typed = tobias.get("/harbour/device")
                .send(
                        "/harbour/device",
                        "user_code",
                        device.path("user_code")
                                .asString()
                                .toLowerCase(java.util.Locale.ROOT)
                                .replace("-", " "));
        assertThat(typed.text())
                .contains("Ferry kiosk")
                .contains(device.path("user_code").asString())
                .contains("A person who sent you a link");
        assertThat(poll(
                                device,
                                demo.ready()
                                        .path("clients")
                                        .path("pilot-tablet")
                                        .path("client_id")
                                        .asString())
                        .status())
                .as("another client's")
                .isEqualTo(400);
        assertThat(typed.send("/harbour/device/answer", "answer", "yes").text()).contains("The device goes on");
        assertThat(typed.send("/harbour/device/answer", "answer", "no").text())
                .as("answered once")
                .contains("no longer good");
        Wire.Answer tokens = poll(device, kiosk);
        assertThat(Wire.call(
                                "GET",
                                demo.gateway() + "/tides/north-quay",
                                tokens.json().path("access_token").asString())
                        .status())
                .isEqualTo(200);
        assertThat(Visitor.claims(tokens.json().path("access_token").asString())
                        .path("sub")
                        .asString())
                .startsWith("pe_");
        assertThat(poll(device, kiosk).json().path("reason").asString())
                .as("once")
                .isEqualTo("device-code-unusable");
    }

    @Test
    void aLinkToTheCodeStillAsks() throws Exception {
        JsonNode device = begin("tides.read");
        Seen page =
                new Visitor(demo).get(device.path("verification_uri_complete").asString());
        assertThat(page.text()).contains("Sign in");
        Seen asked = Visitor.signIn(page, demo, "junia");
        assertThat(asked.text()).contains("Approve only if the device stands before you");
        asked.send("/harbour/device/answer", "answer", "no");
        assertThat(poll(device, kiosk).json().path("error").asString()).isEqualTo("access_denied");
    }

    @Test
    void aPictureOfTheAddressCanBeShown() throws Exception {
        JsonNode device = begin("tides.read");
        Seen picture = new Visitor(demo)
                .get("/harbour/device/picture?user_code="
                        + device.path("user_code").asString());
        assertThat(picture.header("Content-Type")).isEqualTo("image/svg+xml");
        assertThat(read(picture.body()))
                .isEqualTo(device.path("verification_uri_complete").asString());
        assertThat(new Visitor(demo)
                        .get("/harbour/device/picture?user_code=%3Cscript%3E")
                        .status())
                .isEqualTo(400);
    }

    /** What a camera makes of it. */
    private static String read(String svg) throws Exception {
        int size = Integer.parseInt(svg.replaceAll("(?s).*viewBox=\"0 0 (\\d+) .*", "$1"));
        int scale = 8;
        java.awt.image.BufferedImage image =
                new java.awt.image.BufferedImage(size * scale, size * scale, java.awt.image.BufferedImage.TYPE_INT_RGB);
        java.awt.Graphics2D graphics = image.createGraphics();
        graphics.setColor(java.awt.Color.WHITE);
        graphics.fillRect(0, 0, size * scale, size * scale);
        graphics.setColor(java.awt.Color.BLACK);
        java.util.regex.Matcher dark =
                java.util.regex.Pattern.compile("M(\\d+) (\\d+)h1v1").matcher(svg);
        while (dark.find())
            graphics.fillRect(
                    Integer.parseInt(dark.group(1)) * scale, Integer.parseInt(dark.group(2)) * scale, scale, scale);
        int[] pixels = image.getRGB(0, 0, image.getWidth(), image.getHeight(), null, 0, image.getWidth());
        return new com.google.zxing.qrcode.QRCodeReader()
                .decode(
                        new com.google.zxing.BinaryBitmap(new com.google.zxing.common.HybridBinarizer(
                                new com.google.zxing.RGBLuminanceSource(image.getWidth(), image.getHeight(), pixels))),
                        java.util.Map.of(com.google.zxing.DecodeHintType.PURE_BARCODE, true))
                .getText();
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            unknown scope     | client_id=KIOSK&scope=tides.burn | invalid_scope
            never requested   | client_id=KIOSK&scope=berths.book | invalid_scope
            no such client    | client_id=cl_x&scope=tides.read  | invalid_client
            another kind      | client_id=BOARD&scope=tides.read | unauthorized_client
            no client         | scope=tides.read                 | invalid_client""")
    void whatADeviceMayNotBegin(String what, String form, String error) throws Exception {
        String board = demo.ready()
                .path("clients")
                .path("quayside-board")
                .path("client_id")
                .asString();
        assertThat(Wire.form(
                                issuer + "/device_authorization",
                                null,
                                form.replace("KIOSK", kiosk).replace("BOARD", board))
                        .json()
                        .path("error")
                        .asString())
                .isEqualTo(error);
    }

    @Test
    void codesThatNoneShowsAreToldAlike() throws Exception {
        Visitor junia = new Visitor(demo);
        Visitor.signIn(junia.get("/harbour/sign-in"), demo, "junia");
        Seen page = junia.get("/harbour/device");
        assertThat(page.send("/harbour/device", "user_code", "BCDF-GHJK").text())
                .contains("No device shows this code now");
        assertThat(page.send("/harbour/device", "user_code", "<b>x</b>").body()).doesNotContain("<b>x");
        assertThat(Wire.form(
                                issuer + "/token",
                                null,
                                "grant_type=urn:ietf:params:oauth:grant-type:device_code&device_code=admdc_x&client_id="
                                        + kiosk)
                        .json()
                        .path("error")
                        .asString())
                .isEqualTo("invalid_grant");
    }
}
