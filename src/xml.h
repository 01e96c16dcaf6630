#ifndef ABLETURN_XML_H
#define ABLETURN_XML_H

#include <cstdlib>
#include <cstring>
#include <string>

// XML from the front, tag by tag. Elements and attributes are told by what follows the colon of
// their names. No declaration of a document type is read, so that nothing in it stands for anything
// else. Nothing of R is used here.
namespace xml {

// What cannot be read as such a document.
struct Broken {};

class Scanner {
  const char *at, *end;
  const char *inside = nullptr, *inside_end = nullptr;  // the attributes of the present tag

  static bool is_space(char sign) {
    return sign == ' ' || sign == '\t' || sign == '\n' || sign == '\r';
  }
  static bool starts(const char *from, const char *to, const char *what) {
    size_t size = std::strlen(what);
    return static_cast<size_t>(to - from) >= size && std::memcmp(from, what, size) == 0;
  }
  const char *find(const char *from, const char *what) const {
    size_t size = std::strlen(what);
    for (; from + size <= end; from++)
      if (*from == *what && std::memcmp(from, what, size) == 0) return from;
    throw Broken();
  }
  static void add_code(std::string &to, unsigned long code) {
    if (code == 0 || code > 0x10ffff) throw Broken();
    if (code < 0x80) {
      to += static_cast<char>(code);
    } else if (code < 0x800) {
      to += static_cast<char>(0xc0 | code >> 6);
      to += static_cast<char>(0x80 | (code & 0x3f));
    } else if (code < 0x10000) {
      to += static_cast<char>(0xe0 | code >> 12);
      to += static_cast<char>(0x80 | (code >> 6 & 0x3f));
      to += static_cast<char>(0x80 | (code & 0x3f));
    } else {
      to += static_cast<char>(0xf0 | code >> 18);
      to += static_cast<char>(0x80 | (code >> 12 & 0x3f));
      to += static_cast<char>(0x80 | (code >> 6 & 0x3f));
      to += static_cast<char>(0x80 | (code & 0x3f));
    }
  }
  static void add_sign(std::string &to, const std::string &name) {
    static const char *const known[][2] = {
        {"amp", "&"}, {"lt", "<"}, {"gt", ">"}, {"quot", "\""}, {"apos", "'"}};
    for (auto &pair : known)
      if (name == pair[0]) {
        to += pair[1];
        return;
      }
    if (name.size() < 2 || name[0] != '#') throw Broken();
    bool hex = name[1] == 'x';
    add_code(to, std::strtoul(name.c_str() + 1 + hex, nullptr, hex ? 16 : 10));
  }
  static void add_text(std::string &to, const char *from, const char *until) {
    while (from < until) {
      if (*from != '&') {
        to += *from++;
        continue;
      }
      const char *stop = static_cast<const char *>(std::memchr(from, ';', until - from));
      if (!stop || stop - from > 12) throw Broken();
      add_sign(to, std::string(from + 1, stop));
      from = stop + 1;
    }
  }
  static std::string local(const char *from, const char *to) {
    const char *colon = static_cast<const char *>(std::memchr(from, ':', to - from));
    return std::string(colon ? colon + 1 : from, to);
  }
  void read_tag() {
    const char *stop = at;
    for (char quote = 0; stop < end && (quote || *stop != '>'); stop++) {
      if (!quote && *stop == '<') throw Broken();
      if (quote ? *stop == quote : (*stop == '"' || *stop == '\'')) quote = quote ? 0 : *stop;
    }
    if (stop >= end) throw Broken();
    closes = *at == '/';
    if (closes) at++;
    const char *name = at;
    while (at < stop && !is_space(*at) && *at != '/') at++;
    tag = local(name, at);
    alone = !closes && stop[-1] == '/';
    inside = at;
    inside_end = stop - alone;
    at = stop + 1;
  }

 public:
  std::string tag;
  bool closes = false, alone = false;

  Scanner(const unsigned char *bytes, size_t size)
      : at(reinterpret_cast<const char *>(bytes)), end(at + size) {}

  // No text holds a zero.
  bool holds_zero() const { return at < end && std::memchr(at, 0, end - at) != nullptr; }

  // Goes on to the next tag; the text on the way is added where it is wanted. False at the end.
  bool next(std::string *text) {
    while (at < end) {
      const char *open = static_cast<const char *>(std::memchr(at, '<', end - at));
      if (text) add_text(*text, at, open ? open : end);
      if (!open) break;
      at = open + 1;
      if (starts(at, end, "!--")) {
        at = find(at, "-->") + 3;
      } else if (starts(at, end, "![CDATA[")) {
        const char *stop = find(at, "]]>");
        if (text) text->append(at + 8, stop);
        at = stop + 3;
      } else if (*at == '?') {
        at = find(at, "?>") + 2;
      } else if (*at == '!') {
        throw Broken();
      } else {
        read_tag();
        return true;
      }
    }
    at = end;
    return false;
  }

  // Whether the present tag has an attribute, which is put into `value`.
  bool attribute(const char *wanted, std::string &value) const {
    for (const char *p = inside; p < inside_end;) {
      while (p < inside_end && is_space(*p)) p++;
      const char *name = p;
      while (p < inside_end && *p != '=' && !is_space(*p)) p++;
      const char *name_end = p;
      while (p < inside_end && *p != '"' && *p != '\'') p++;
      if (p >= inside_end) return false;
      char quote = *p++;
      const char *from = p;
      while (p < inside_end && *p != quote) p++;
      if (local(name, name_end) == wanted) {
        value.clear();
        add_text(value, from, p);
        return true;
      }
      p++;
    }
    return false;
  }
  double times(const char *wanted) const {
    std::string said;
    double count = attribute(wanted, said) ? std::strtod(said.c_str(), nullptr) : 1;
    return count >= 1 && count < 1e9 ? count : count >= 1e9 ? 1e9 : 1;
  }
};

}  // namespace xml

#endif
