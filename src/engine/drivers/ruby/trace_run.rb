# Writes down the lines that a Ruby program runs: loaded before it (RUBYOPT), in each of its processes.
require "coverage"
require_relative "fixed_run" if ENV["SIDE_TWIN_NOW"] || ENV["SIDE_TWIN_SEED"]

Coverage.start(lines: true)

# The program's own file is not counted: its lines are met one by one.
side_twin_main = {}
TracePoint.new(:script_compiled) do |compiled|
  next unless compiled.instruction_sequence.path == $PROGRAM_NAME
  compiled.disable
  TracePoint.new(:line) { |at| side_twin_main[at.lineno] = true }.enable(target: compiled.instruction_sequence)
end.enable
side_twin_record = ENV.fetch("SIDE_TWIN_LINES")
# Coverage uses the main script's path as it was given.
side_twin_folder = Dir.pwd
side_twin_root = File.realpath(ENV.fetch("SIDE_TWIN_ROOT"))
at_exit do
  lines = Coverage.peek_result.filter_map do |name, counts|
    file = File.expand_path(name, side_twin_folder)
    next unless file.start_with?("#{side_twin_root}/")
    ran = counts[:lines].each_index.select { |at| counts[:lines][at]&.positive? }.map { |at| at + 1 }
    "#{file.delete_prefix("#{side_twin_root}/")}\t#{ran.join(",")}\n" unless ran.empty?
  end
  main = File.expand_path($PROGRAM_NAME, side_twin_folder)
  if main.start_with?("#{side_twin_root}/") && !side_twin_main.empty?
    lines << "#{main.delete_prefix("#{side_twin_root}/")}\t#{side_twin_main.keys.join(",")}\n"
  end
  File.open(side_twin_record, "a") { |record| record.write(lines.join) }
rescue SystemCallError
  # Nothing is proven by it then.
end
