import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.xml.XMLConstants;
import javax.xml.transform.stream.StreamSource;
import javax.xml.validation.Schema;
import javax.xml.validation.SchemaFactory;
import org.xml.sax.SAXException;

/**
 * Checks a codebook by the official schema, with all references from one variable to another.
 * Nothing is fetched: what the schema imports lies beside it.
 *
 * <p>Use: java Ddi.java FOLDER CODEBOOK.XSD
 */
public class Ddi {
  static String problem(Schema schema, String text) throws Exception {
    try {
      schema.newValidator().validate(new StreamSource(new StringReader(text)));
      return "";
    } catch (SAXException e) {
      return e.getMessage();
    }
  }

  public static void main(String[] given) throws Exception {
    SchemaFactory factory = SchemaFactory.newInstance(XMLConstants.W3C_XML_SCHEMA_NS_URI);
    factory.setProperty(XMLConstants.ACCESS_EXTERNAL_DTD, "file");
    factory.setProperty(XMLConstants.ACCESS_EXTERNAL_SCHEMA, "file");
    Schema schema = factory.newSchema(Path.of(given[1]).toFile());
    String text = Files.readString(Path.of(given[0], "package", "codebook.xml"));
    String found = problem(schema, text);
    String dangling = text.replaceFirst("derivation var=\"V[0-9]+", "derivation var=\"V9999");
    if (found.isEmpty() && (dangling.equals(text) || problem(schema, dangling).isEmpty())) {
      found = "a reference to no variable is not found";
    }
    System.out.println(
        String.join(
            "\t",
            found.isEmpty() ? "ok" : "FAILED",
            "package/codebook.xml",
            "XSD of DDI-Codebook 2.5 (Java)",
            found.isEmpty() ? "valid, with its references; a dangling one is found" : found));
  }
}
