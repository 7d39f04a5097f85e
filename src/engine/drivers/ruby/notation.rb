# Ruby values to and from Side Twin's value notation (docs/formats.md, sections 3, 17 and 20).


module SideTwin
  class Notation
    SAFE = 2**53 - 1
    MAX_ITEMS = 10_000
    MAX_DEPTH = 150

    # A value that cannot be handed over.
    class Misfit < StandardError; end

    def self.base64(data)
      [data].pack("m0")
    end

    def self.handle?(raw)
      raw.is_a?(Hash) && raw.length == 1 && raw.key?("~as")
    end

    def self.encode(value, path = [])
      case value
      when nil, true, false then return value
      when Integer then return value.abs <= SAFE ? value : { "~int" => value.to_s }
      when Float then return floating(value)
      when String then return text(value)
      when Symbol then return text(value.to_s)
      end
      depth = path.index { |item| item.equal?(value) }
      return { "~ref" => depth } if depth
      return { "~opaque" => "<nested deeper than #{MAX_DEPTH}>" } if path.length > MAX_DEPTH
      composed(value, path + [value])
    end

    def self.text(value)
      return { "~bytes" => base64(value) } if value.encoding == Encoding::BINARY
      plain = value.encode("UTF-8")
      plain.valid_encoding? ? plain : { "~bytes" => base64(value.b) }
    rescue EncodingError
      { "~bytes" => base64(value.b) }
    end

    def self.floating(value)
      return { "~num" => "NaN" } if value.nan?
      return { "~num" => value.positive? ? "Infinity" : "-Infinity" } if value.infinite?
      return { "~num" => "-0" } if value.zero? && 1 / value < 0
      value == value.floor ? { "~float" => value.to_s } : value
    end

    def self.composed(value, path)
      case value
      when Array then value.map { |item| encode(item, path) }
      when Hash then mapping(value, path)
      when Struct then object(value.class, value.members.to_h { |name| [name.to_s, encode(value[name], path)] })
      when Range then value.begin.is_a?(Integer) && value.end.is_a?(Integer) ? value.first(MAX_ITEMS).map { |item| encode(item, path) } : object(value.class, { "begin" => encode(value.begin, path), "end" => encode(value.end, path) })
      when Enumerator then value.lazy.first(MAX_ITEMS).map { |item| encode(item, path) }
      when Exception then object(value.class, { "message" => value.message })
      when Rational then object(value.class, { "numerator" => encode(value.numerator), "denominator" => encode(value.denominator) })
      when Complex then object(value.class, { "real" => encode(value.real, path), "imag" => encode(value.imaginary, path) })
      when Proc, Method, UnboundMethod, Module, IO, Thread then { "~opaque" => "<#{value.class}>" }
      when Time then { "~time" => value.strftime(value.subsec.zero? ? "%Y-%m-%dT%H:%M:%S%:z" : "%Y-%m-%dT%H:%M:%S.%9N%:z") }
      else special(value, path)
      end
    end

    def self.special(value, path)
      return { "~set" => value.map { |item| encode(item, path) }.sort_by(&:to_s) } if defined?(::Set) && value.is_a?(::Set)
      return { "~dec" => value.to_s("F").sub(/\.0\z/, "") } if defined?(::BigDecimal) && value.is_a?(::BigDecimal)
      return { "~time" => value.iso8601 } if defined?(::DateTime) && value.is_a?(::DateTime)
      return { "~date" => value.iso8601 } if defined?(::Date) && value.is_a?(::Date)
      return object(value.class, value.to_h.to_h { |name, item| [name.to_s, encode(item, path)] }) if defined?(::Data) && value.class < ::Data
      object(value.class, value.instance_variables.to_h { |name| [name.to_s.delete_prefix("@"), encode(value.instance_variable_get(name), path)] })
    end

    def self.object(kind, fields)
      { "~obj" => kind.name.to_s.split("::").last || "Object", "fields" => fields }
    end

    def self.mapping(value, path)
      plain = value.keys.all? { |key| (key.is_a?(String) || key.is_a?(Symbol)) && text(key.to_s).is_a?(String) }
      return { "~map" => value.map { |key, item| [encode(key, path), encode(item, path)] } } unless plain
      fields = value.to_h { |key, item| [text(key.to_s), encode(item, path)] }
      tagged = (fields.length == 1 && fields.keys[0].start_with?("~")) || fields.key?("~obj") || fields.key?("~list")
      tagged ? { "~esc" => fields } : fields
    end

    # `modules` are those in which a class is looked for by its name; `objects` are those that steps have named.
    def initialize(modules, objects)
      @modules = modules
      @objects = objects
    end

    def decode(raw)
      case raw
      when Array then raw.map { |item| decode(item) }
      when Hash then from_hash(raw)
      when String then raw.dup
      else raw
      end
    end

    private

    NUMBERS = { "NaN" => Float::NAN, "Infinity" => Float::INFINITY, "-Infinity" => -Float::INFINITY, "-0" => -0.0 }.freeze

    def from_hash(raw)
      tag = raw.keys.find { |key| key.start_with?("~") }
      return raw.transform_values { |item| decode(item) } if tag.nil?
      body = raw[tag]
      case tag
      when "~num" then NUMBERS.fetch(body)
      when "~int" then Integer(body)
      when "~float" then Float(body)
      when "~dec" then require("bigdecimal") | true && BigDecimal(body)
      when "~bytes" then body.unpack1("m0").b
      when "~none" then nil
      when "~esc" then body.transform_values { |item| decode(item) }
      when "~tuple", "~list" then body.map { |item| decode(item) }
      when "~set" then require("set") | true && Set.new(body.map { |item| decode(item) })
      when "~map" then body.to_h { |key, item| [decode(key), decode(item)] }
      when "~date" then require("date") | true && Date.iso8601(body)
      when "~time" then time(body)
      when "~utf16" then body.unpack1("m0").force_encoding("UTF-16LE").encode("UTF-8", invalid: :replace)
      when "~as" then named(body)
      when "~obj" then instance(body, raw["fields"] || {})
      else raise Misfit, "#{tag} cannot be handed over in Ruby"
      end
    end

    def time(text)
      require "time"
      text.match?(/(Z|[+-]\d\d:?\d\d)\z/) ? Time.iso8601(text) : Time.iso8601("#{text}Z")
    end

    def named(name)
      raise Misfit, "no step has named an object #{name.inspect}" unless @objects.key?(name)
      @objects[name]
    end

    def instance(name, fields)
      kind = @modules.find { |one| one.is_a?(Class) && one.name.to_s.split("::").last == name }
      values = fields.transform_values { |item| decode(item) }
      return values if kind.nil?
      return kind.new(values["message"]) if kind < Exception
      return struct(kind, values) if kind < Struct
      return kind.new(**values.transform_keys(&:to_sym)) if defined?(::Data) && kind < ::Data
      made = kind.allocate
      values.each { |key, item| made.instance_variable_set("@#{key}", item) }
      made
    end

    def struct(kind, values)
      made = kind.allocate
      values.each { |key, item| made[key] = item }
      made
    end
  end
end
