package dev.admit.core.tries;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.HexFormat;

/**
 * What one caller can take for themselves of a network: an IPv4 address, or the /64 in which anybody chooses among IPv6
 * addresses.
 */
public final class Network {
    private static final int PREFIX_BYTES = 8;

    private Network() {}

    /**
     * @param address as a socket tells it.
     * @return a text that is the same for all addresses of the same caller
     */
    public static String of(String address) {
        if (address.indexOf(':') < 0) return address;
        try {
            byte[] bytes = InetAddress.getByName(
                            address.startsWith("[") ? address.substring(1, address.length() - 1) : address)
                    .getAddress();
            return bytes.length == 4
                    ? InetAddress.getByAddress(bytes).getHostAddress()
                    : HexFormat.of().formatHex(bytes, 0, PREFIX_BYTES) + "/64";
        } catch (UnknownHostException none) {
            return address;
        }
    }
}
