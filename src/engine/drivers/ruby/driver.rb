# Side Twin's driver for Ruby: runs sections of ported code and answers in JSON Lines (docs/formats.md, section 7).
#
# Requests come in on file descriptor 3, replies leave on 4; descriptor 1 is a file that belongs to the ported code: what it prints is
# read back from there. Modules are loaded once. A case whose state can be seen runs here, and the process ends after one that changed
# it; any other runs in a child of its own, so that no case meets what another left.
# Needs nothing but the standard library of Ruby 2.7 or later.

require "coverage"
require "json"
require "digest"
require_relative "clock"
require_relative "notation"
require_relative "state"

module SideTwin
  class Missing < StandardError; end
  class WouldNotLoad < StandardError; end

  class Driver
    def initialize
      @requests = IO.for_fd(3, "r")
      @replies = IO.for_fd(4, "w")
      [@requests, @replies].each { |pipe| pipe.close_on_exec = true }
      @requests.set_encoding("UTF-8")
      @replies.sync = true
      @output_limit = 8192 * 1024
      @loaded = {}
      @state = State.new
      @main = TOPLEVEL_BINDING.receiver
    end

    def serve
      while (line = @requests.gets)
        request = JSON.parse(line)
        break if request["op"] == "bye"
        %w[call steps].include?(request["op"]) ? answer_case(request) : send_reply(request["id"], guarded { operate(request) })
      end
    end

    def operate(request)
      case request["op"]
      when "hello" then hello(request)
      when "reset" then {}
      when "load" then { "names" => names_of(request["file"]) }
      when "lines" then lines_of(request["file"])
      else { "error" => "unknown op #{request["op"].inspect}; known: hello, load, lines, call, steps, reset" }
      end
    end

    def hello(request)
      @root = File.realpath(request["root"] || ".")
      @secret = request["secret"]
      @output_limit = request["outputKb"] * 1024 if request["outputKb"]
      paths = (request["path"] || ["."]).map { |path| File.expand_path(path, @root) }
      $LOAD_PATH.unshift(*paths)
      Dir.chdir(request["scratch"]) if request["scratch"]
      @tells_lines = request["lines"]
      Coverage.start(lines: true) if @tells_lines
      { "bridge" => 1, "language" => "ruby", "version" => RUBY_VERSION }
    end

    # -- cases ------------------------------------------------------------------------------------------------

    def answer_case(request)
      files = request["files"] || [request["file"]]
      problem = guarded { files.each { |file| load_file(file) } && nil }
      return send_reply(request["id"], problem) if problem
      return send_reply(request["id"], run_case(request)) if request["state"] == "kept"
      return answer_here(request) if @state.seen?(@root) { @before = nil }
      child = fork do
        send_reply(request["id"], run_case(request))
        exit!(0)
      end
      _pid, status = Process.wait2(child)
      return if status.success?
      why = status.signaled? ? "it was ended by SIG#{Signal.signame(status.termsig)}" : "it ended with status #{status.exitstatus}"
      send_reply(request["id"], broken(status.signaled? ? "crashed" : "ended", why))
    end

    def answer_here(request)
      before = @before || @state.take
      reply = run_case(request)
      Clock.at = nil
      srand if request["seed"]
      @before = @state.take
      is_last = @before != before
      send_reply(request["id"], reply, is_last)
      exit!(0) if is_last
    end

    def run_case(request)
      Coverage.result(stop: false, clear: true) if @tells_lines
      Clock.fix(request["now"])
      srand(request["seed"]) if request["seed"]
      reply = guarded { request["op"] == "call" ? call(request) : steps(request) }
      @ran = lines_run if @tells_lines
      printed = take_printed
      return broken("over-limit", "it printed more than #{@output_limit / 1024} KB") if printed.nil?
      reply["printed"] = printed unless reply.key?("broken") || reply.key?("missing")
      reply
    end

    def guarded
      yield
    rescue Missing => e
      { "missing" => e.message }
    rescue WouldNotLoad, Notation::Misfit => e
      broken("would-not-load", e.message)
    rescue SystemExit => e
      broken("ended", "it ended the process: exit(#{e.status})")
    rescue NoMemoryError
      broken("over-limit", "it ran out of memory")
    rescue Exception => e # rubocop:disable Lint/RescueException
      { "error" => "#{e.class}: #{e.message}" }
    end

    def broken(why, what)
      { "broken" => { "why" => why, "what" => what, "lastOutput" => "" } }
    end

    # -- lines ------------------------------------------------------------------------------------------------

    # File below the root => the lines that ran since they were counted from zero.
    def lines_run
      Coverage.peek_result.filter_map do |full, counts|
        next unless full.start_with?("#{@root}/")
        ran = counts[:lines].each_index.select { |at| counts[:lines][at]&.positive? }.map { |at| at + 1 }
        [full.delete_prefix("#{@root}/"), ran] unless ran.empty?
      end.to_h
    end

    # Before a case counts from zero.
    def note_loads
      @loads = (@loads || {}).merge(lines_run) { |_file, known, more| (known + more).uniq.sort }
    end

    # The lines of a file that can run, and those that loading it runs.
    def lines_of(file)
      problem = guarded { load_file(file) && nil }
      # To ask for a stub would count a loaded file again.
      counts = Coverage.peek_result[File.realpath(File.join(@root, file))]&.fetch(:lines) || Coverage.line_stub(File.join(@root, file))
      { "lines" => counts.each_index.reject { |at| counts[at].nil? }.map { |at| at + 1 }, "load" => problem ? [] : (@loads || {})[file] || [] }
    rescue SystemCallError, SyntaxError
      { "lines" => [], "load" => [] }
    end

    # -- loading ----------------------------------------------------------------------------------------------

    # Returns a file's definitions: names of top-level methods, and modules.
    Loaded = Struct.new(:methods, :modules)

    def load_file(file)
      known = @loaded[file]
      raise known if known.is_a?(WouldNotLoad)
      return known if known
      full = File.join(@root, file)
      raise Missing, file unless File.file?(full)
      begin
        require full
        note_loads if @tells_lines
        @loaded[file] = Loaded.new(defined_in(file), modules_in(full))
      rescue SystemExit => e
        raise WouldNotLoad, "it ends the process while loading: exit(#{e.status})"
      rescue ScriptError, StandardError => e
        @loaded[file] = WouldNotLoad.new("#{e.class}: #{e.message}")
        raise @loaded[file]
      end
    end

    # Top-level methods are private methods of Object: those of the file are recognised by their source location.
    def defined_in(file)
      full = File.realpath(File.join(@root, file))
      Object.private_instance_methods(false).select do |name|
        place = Object.instance_method(name).source_location
        place && File.exist?(place[0]) && File.realpath(place[0]) == full
      end
    end

    DECLARED = /^[ \t]*(?:class|module)[ \t]+((?:[A-Z]\w*::)*[A-Z]\w*)|^[ \t]*([A-Z]\w*)[ \t]*=[ \t]*(?:Struct|Data|Class|Module)\b/.freeze

    # The modules and classes that a file declares, the nested ones by every name they may have.
    def modules_in(full)
      wanted = File.read(full, encoding: "UTF-8").scan(DECLARED).flatten.compact.uniq
      found = []
      wanted.each { |name| found.concat(resolve(name, found)) }
      found.uniq
    end

    def resolve(name, holders)
      [Object, *holders].flat_map do |holder|
        value = holder.const_get(name, holder.equal?(Object))
        value.is_a?(Module) ? [value] : []
      rescue NameError
        []
      end
    end

    def names_of(file)
      loaded = load_file(file)
      functions = loaded.methods.map { |name| [name, Object.instance_method(name)] }
      statics = loaded.modules.flat_map { |owner| owner.singleton_methods(false).map { |name| [name, owner.method(name)] } }
      (functions + statics).map do |name, method|
        { "name" => name.to_s, "kind" => "function", "params" => method.parameters.map { |_kind, param| param.to_s } }
      end
    end

    # -- calls ------------------------------------------------------------------------------------------------

    def notation(request, objects = {})
      modules = (request["files"] || [request["file"]]).flat_map { |file| load_file(file).modules }
      Notation.new(modules, objects)
    end

    def call(request)
      method = find(request["files"] || [request["file"]], request["names"] || [request["name"]])
      reply, _value = invoke(method, request, notation(request))
      reply
    end

    def find(files, names)
      names.each do |name|
        files.each do |file|
          method = function_in(load_file(file), name, file)
          return method if method
        end
      end
      raise Missing, names[0]
    end

    # At the file's top level, else in the module named like the file, else in any of its modules.
    def function_in(loaded, name, file)
      *owners, last = name.split(".")
      unless owners.empty?
        owner = loaded.modules.find { |one| simple(one) == owners.last }
        return owner && static_of(owner, last)
      end
      return @main.method(last) if loaded.methods.include?(last.to_sym)
      stem = File.basename(file, ".rb").delete("_").downcase
      ordered = loaded.modules.sort_by { |one| simple(one).downcase == stem ? 0 : 1 }
      ordered.each { |one| method = static_of(one, last) and return method }
      nil
    end

    def static_of(owner, name)
      return owner.method(name) if owner.singleton_class.method_defined?(name) || owner.singleton_class.private_method_defined?(name)
      # A module's own functions, without an object of it.
      return nil if owner.is_a?(Class) || !(owner.method_defined?(name) || owner.private_method_defined?(name))
      Object.new.extend(owner).method(name)
    end

    def simple(owner)
      owner.name.to_s.split("::").last.to_s
    end

    def invoke(method, given, coder)
      args = (given["args"] || []).map { |item| coder.decode(item) }
      named = (given["kwargs"] || {}).transform_values { |item| coder.decode(item) }
      check_count(method, args.length, named)
      reply = {}
      value = nil
      since = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      begin
        value = takes_names?(method) && !named.empty? ? method.call(*args, **named.transform_keys(&:to_sym)) : method.call(*args, *(named.empty? ? [] : [named]))
        value = value.lazy.first(Notation::MAX_ITEMS + 1) if value.is_a?(Enumerator)
        reply["ms"] = elapsed(since)
        reply["value"] = Notation.encode(value)
      rescue SystemExit, NoMemoryError, Notation::Misfit
        raise
      rescue Exception => e # rubocop:disable Lint/RescueException
        reply["ms"] = elapsed(since)
        reply["thrown"] = { "kind" => simple(e.class), "message" => text_of(e), "trace" => (e.backtrace || []).first(20).join("\n") }
      end
      raws = given["args"] || []
      reply["args"] = args.each_with_index.map { |item, at| Notation.handle?(raws[at]) ? raws[at] : Notation.encode(item) }
      reply["kwargs"] = named.transform_values { |item| Notation.encode(item) } unless named.empty?
      [reply, value]
    end

    # Without what newer versions add for people: marks and the nearest names.
    def text_of(error)
      text = error.respond_to?(:detailed_message) ? error.message.sub(/\nDid you mean\?.*/m, "") : error.message
      text = text.dup.force_encoding("UTF-8").scrub
      text == error.class.name && !error.is_a?(SystemExit) ? "" : text
    end

    def elapsed(since)
      ((Process.clock_gettime(Process::CLOCK_MONOTONIC) - since) * 1000).round(4)
    end

    def takes_names?(method)
      method.parameters.any? { |kind, _name| %i[key keyreq keyrest].include?(kind) }
    end

    def check_count(method, count, named)
      kinds = method.parameters.map(&:first)
      # Those written in C tell too little.
      return if kinds == [[:rest]] || kinds == [:rest]
      count += 1 if !named.empty? && !takes_names?(method)
      least = kinds.count(:req)
      most = kinds.include?(:rest) ? Float::INFINITY : least + kinds.count(:opt)
      return if count.between?(least, most)
      raise WouldNotLoad, "#{method.name} takes #{least == most ? least : "#{least} to #{most}"} arguments, not #{count}"
    end

    # -- steps ------------------------------------------------------------------------------------------------

    def steps(request)
      objects = {}
      coder = notation(request, objects)
      results = request["steps"].map do |step|
        result, value = step(request, step, objects, coder)
        result.delete("ms")
        objects[step["as"]] = value if step["as"] && result.key?("value")
        result
      end
      { "steps" => results }
    end

    def step(request, step, objects, coder)
      files = request["files"] || [request["file"]]
      target = nil
      if step["on"]
        raise Missing, step["on"] unless objects.key?(step["on"])
        target = objects[step["on"]]
      end
      return make(files, step, coder) if step["new"]
      if step["call"]
        method = step["on"] ? method_of(target, step["call"]) : find(files, step["call"])
        return invoke(method, step, coder)
      end
      step["get"] ? get(target, step["get"]) : set(target, step["set"], coder.decode(step["value"]))
    end

    def make(files, step, coder)
      step["new"].each do |name|
        kind = files.flat_map { |file| load_file(file).modules }.find { |one| one.is_a?(Class) && simple(one) == name.split(".").last }
        method = kind ? kind.method(:new) : begin
          find(files, [name])
        rescue Missing
          next
        end
        checked = kind && kind.instance_method(:initialize)
        check_count(checked, (step["args"] || []).length, step["kwargs"] || {}) if checked && checked.owner != BasicObject
        result, value = invoke(method, step, coder)
        result["value"] = { "~obj" => "new", "fields" => {} } if result.key?("value")
        return [result, value]
      end
      raise Missing, step["new"][0]
    end

    def method_of(target, names)
      names.each { |name| return target.method(name) if target.respond_to?(name, true) }
      raise Missing, names[0]
    end

    def get(target, names)
      names.each do |name|
        value =
          if target.respond_to?(name) && target.method(name).arity <= 0 then target.public_send(name)
          elsif target.instance_variable_defined?("@#{name}") then target.instance_variable_get("@#{name}")
          elsif target.respond_to?("#{name}?") then target.public_send("#{name}?")
          else next
          end
        return [{ "value" => Notation.encode(value) }, value]
      rescue NameError
        next
      end
      raise Missing, names[0]
    end

    def set(target, names, value)
      name = names.find { |one| target.respond_to?("#{one}=") }
      if name then target.public_send("#{name}=", value)
      else
        held = names.find { |one| target.instance_variable_defined?("@#{one}") }
        raise Missing, names[0] unless held
        target.instance_variable_set("@#{held}", value)
      end
      [{ "value" => nil }, nil]
    end

    # -- the pipe ---------------------------------------------------------------------------------------------

    def take_printed
      $stdout.flush
      size = File.size("/proc/self/fd/1")
      return "" if size.zero?
      text = size > @output_limit ? nil : File.binread("/proc/self/fd/1").force_encoding("UTF-8").scrub
      File.truncate("/proc/self/fd/1", 0)
      text
    rescue SystemCallError
      ""
    end

    def send_reply(id, reply, is_last = false)
      head = { "id" => id }
      head["tag"] = tag(id) if @secret
      head["last"] = true if is_last
      ms = reply.delete("ms")
      head["ms"] = ms if ms
      head["lines"] = @ran if @ran
      @ran = nil
      @replies.write("#{JSON.generate(head.merge(reply))}\n")
    rescue JSON::GeneratorError => e
      @replies.write("#{JSON.generate(head.merge("error" => "the answer cannot be written down: #{e.message[0, 200]}"))}\n")
    end

    def tag(id)
      Digest::SHA512.hexdigest("#{@secret}:#{id >> 4}")[(id & 15) * 8, 8]
    end
  end
end

SideTwin::Driver.new.serve
