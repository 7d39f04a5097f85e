# State that outlives a call: mutable constants, variables of classes and of the program, the environment.

module SideTwin
  class State
    # Changes to the program itself, which no comparison of values shows.
    UNSEEN = /\b(define_method|define_singleton_method|class_eval|module_eval|instance_eval|class_exec|remove_method|undef_method|alias_method|prepend|refine|const_set|remove_const|autoload|at_exit|trap|fork|exec|exit!|TracePoint|ObjectSpace|Ractor)\b/

    # Predefined variables that change a program's behaviour.
    SWITCHES = [-> { $stdout }, -> { $stderr }, -> { $stdin }, -> { $/ }, -> { $, }, -> { $; }, -> { $VERBOSE }, -> { $DEBUG }, -> { Encoding.default_external }, -> { Encoding.default_internal }].freeze

    # Reopened core classes, whose variables are not compared.
    OPENED = /^\s*(?:class|module)\s+(?:::)?(?:Object|Kernel|BasicObject|Module|Class|String|Symbol|Integer|Float|Numeric|Array|Hash|Range|Set|Struct|Time|Comparable|Enumerable|Proc|Method|NilClass|TrueClass|FalseClass|Exception|StandardError)\s*(?:$|;|#)/

    def initialize
      @own_globals = global_variables
      @own_constants = Object.constants(false)
      @main = TOPLEVEL_BINDING.receiver
      @features = nil
      @is_seen = false
    end

    # Whether all state of the loaded files can be compared. Worked out again, after yielding, when more files were loaded.
    def seen?(root)
      return @is_seen if @features == $LOADED_FEATURES.size
      yield
      files = $LOADED_FEATURES.select { |file| file.start_with?("#{root}/") }
      @modules = modules_of(root)
      @constants = @modules.to_h { |owner| [owner, names_in(owner)] }
      @features = $LOADED_FEATURES.size
      texts = files.map { |file| File.binread(file) }
      @mentions_globals = texts.any? { |text| text.match?(/\$(?!std(?:out|in|err)\b)[A-Za-z_]/) }
      @mentions_env = texts.any? { |text| text.include?("ENV") }
      @mentions_folder = texts.any? { |text| text.include?("chdir") }
      @is_seen = texts.none? { |text| UNSEEN.match?(text) || OPENED.match?(text) } && can_take?
    end

    # A text that is the same while nothing changed.
    def take
      held = @modules.map { |owner| [values_of(owner), ivars_of(owner), class_variables_of(owner)] }
      # They are there once they have a value.
      names = @mentions_globals ? global_variables - @own_globals : []
      globals = names.map { |name| [name, eval(name.to_s)] } # rubocop:disable Security/Eval
      around = [(ENV.to_h if @mentions_env), (Dir.pwd if @mentions_folder), Thread.list.size, $LOADED_FEATURES.size, *SWITCHES.map(&:call).map(&:object_id)]
      Marshal.dump([held, globals, ivars_of(@main), around])
    end

    private

    def can_take?
      take
      true
    rescue StandardError
      false
    end

    def modules_of(root)
      ObjectSpace.each_object(Module).select do |one|
        place = one.name && Object.const_source_location(one.name)&.first
        place&.start_with?("#{root}/")
      rescue NameError
        false
      end + [Object]
    end

    # Constants that can change; Ruby's own are left out.
    def names_in(owner)
      names = owner.equal?(Object) ? Object.constants(false) - @own_constants : owner.constants(false)
      names.reject do |name|
        next true if owner.autoload?(name)
        value = owner.const_get(name, false)
        value.is_a?(Module) || Ractor.shareable?(value)
      end
    end

    def values_of(owner)
      @constants[owner].map { |name| owner.const_get(name, false) }
    end

    def ivars_of(owner)
      owner.equal?(Object) ? [] : owner.instance_variables.map { |name| [name, owner.instance_variable_get(name)] }
    end

    def class_variables_of(owner)
      owner.class_variables(false).map { |name| [name, owner.class_variable_get(name)] }
    end
  end
end
