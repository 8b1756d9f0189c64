package org.gantrel.service.beside;

import java.io.ObjectInputFilter;

/**
 * Objects of Java in what others send: they are never made. A database can give them as values (JAVA_OBJECT), and to read such
 * an object is to run code that its maker chose. Nothing of this program is kept or sent in that form.
 */
public final class ForeignObjects {

    private ForeignObjects() {}

    /** Has this process make none, from now on (JEP 290). */
    public static synchronized void refuse() {
        if (ObjectInputFilter.Config.getSerialFilter() == null) {
            ObjectInputFilter.Config.setSerialFilter(met -> ObjectInputFilter.Status.REJECTED);
        }
        // nor classes by a name that a server of H2 says, such as one that is to read these objects
        System.setProperty("h2.allowedClasses", ForeignObjects.class.getName());
    }
}
