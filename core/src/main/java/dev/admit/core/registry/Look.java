package dev.admit.core.registry;

import java.text.Normalizer;
import java.util.HashSet;
import java.util.Locale;
import java.util.Set;

/** Whether a name could be taken for another by a person who reads it. */
public final class Look {
    /** Letters of Cyrillic and Greek, and digits, that are read as a Latin letter; beneath each the letter. */
    private static final String SHOWN = "авсеһіјԛорѕтхуԝкмнгԁԍαβγεικνορτυχω01|5$";

    private static final String READ = "abcehijqopstxywkmhrdgabyeiknoptuxwollss";

    private Look() {}

    /** What is left of a name for the eye: no case, accents, spaces or marks, look-alikes as one letter. */
    public static String skeleton(String name) {
        String plain = Normalizer.normalize(name, Normalizer.Form.NFKD)
                .toLowerCase(Locale.ROOT)
                .replaceAll("\\p{M}+", "");
        StringBuilder skeleton = new StringBuilder();
        plain.codePoints().forEach(c -> {
            int at = SHOWN.indexOf(c);
            int read = at < 0 ? c : READ.charAt(at);
            if (read == 'i') read = 'l'; // I, l and 1 are one to the eye
            if (Character.isLetterOrDigit(read)) skeleton.appendCodePoint(read);
        });
        return skeleton.toString().replace("rn", "m").replace("vv", "w");
    }

    /** Letters of two scripts in one name are there to deceive, more often than not. */
    public static boolean mixesScripts(String name) {
        Set<Character.UnicodeScript> scripts = new HashSet<>();
        name.codePoints()
                .filter(Character::isLetter)
                .mapToObj(Character.UnicodeScript::of)
                .filter(it -> it != Character.UnicodeScript.COMMON && it != Character.UnicodeScript.INHERITED)
                .forEach(scripts::add);
        boolean japanese = scripts.stream()
                .allMatch(it -> it == Character.UnicodeScript.HAN
                        || it == Character.UnicodeScript.HIRAGANA
                        || it == Character.UnicodeScript.KATAKANA
                        || it == Character.UnicodeScript.LATIN);
        return scripts.size() > 1 && !(japanese && scripts.contains(Character.UnicodeScript.HAN));
    }
}
