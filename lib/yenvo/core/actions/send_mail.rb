# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Writes a mail to persons, teams, e-mail fields and fixed addresses. Who cannot get it is left out, and it is
      # said why.
      class SendMail < Message
        DESTINATION = "mail server"

        def self.takes
          {
            "receivers" => :receivers, "cc" => :receivers, "reply_to" => :receivers, "subject" => :template,
            "text" => :template, "saved" => :kept, "attach" => :attach, **LATER
          }
        end

        def self.required = %w[receivers]
        def self.words = "Write a mail"

        def plan(facts, now:, rule_name:)
          good, readers, left_out = sort(facts)
          return nothing("there is nobody to write to: #{left_out.join("; ")}") if good["to"].empty?

          check_number(readers)
          veiled = outside?(readers)
          content = content(good, veiled ? facts.read_at(Facts::OUTSIDE) : facts, now, rule_name)
          return nothing("the subject or the text came out empty") if empty?(content)

          names = good["to"].map(&:name)
          message(DESTINATION, content, facts, now, words: words(names, content, veiled), left_out:,
            named: names.join(", "), notes: left_out.map { |why| "left out: #{why}" }, attach: @attach)
        end

        def shown = "Mail: #{Text.shown(source_of("subject"), @kind, @schema)}"

        # What can go along: papers that the same run has made, files of the task of the event.
        ATTACH = %w[papers files].freeze

        # Lines of a mail by what says who stands there.
        LINES = {"to" => "receivers", "cc" => "cc", "reply_to" => "reply_to"}.freeze
        private_constant :LINES

        private

        # Whoever answers go to reads nothing; nobody else gets it twice.
        # @return [Array(Hash, Array, Array)] those who get it, by line; those of them who read it; why others do not
        def sort(facts)
          whose = whose(facts)
          readers, left_out = {}, []
          good = @ways.transform_values { [] }
          @ways.each do |line, ways|
            ways.each do |way|
              Receivers.of(way, facts, @schema, whose).each do |one|
                good[line] << one if gets?(line == "reply_to", one, readers, left_out)
              end
            end
          end
          [good, readers.values, left_out.uniq]
        end

        def gets?(answers, one, readers, left_out)
          return answers || fresh?(one, readers) unless one.why

          left_out << one.why unless answers
          false
        end

        def fresh?(one, readers) = !readers.key?(key = one.address.downcase) && (readers[key] = one)

        def empty?(content) = content.values_at("subject", "text").any?(&:empty?)

        def check_number(readers)
          return if readers.size <= Receivers::MOST

          raise Error, "The mail would go to #{readers.size} addresses; at most #{Receivers::MOST}. Write to fewer."
        end

        def content(good, read, now, rule_name)
          content = {}
          good.each { |line, all| content[line] = all.map(&:address).join(", ") unless all.empty? }
          content["subject"] = Show.line(fill(@subject, read, now, rule_name))
          content["text"] = fill(@text, read, now, rule_name)
          content
        end

        # What goes outside alone nobody of the house reads, unless somebody is asked about it first.
        def outside?(readers) = settings["ask"] != true && @schema.hides? && readers.none?(&:person)

        def words(names, content, veiled)
          said = names.first(3).join(", ")
          said += " and #{names.size - 3} more" if names.size > 3
          "Mail to #{said}#{": #{content["subject"][0, 120]}" unless veiled}"
        end

        def prepare
          @ways = LINES.transform_values { |name| ways(name) }.reject { |line, ways| ways.empty? && line != "to" }
          wrong("receivers", "must name somebody") if settings["receivers"].to_a.empty?
          wrong("reply_to", "must be one only") if settings["reply_to"].to_a.size > 1
          @subject = template("subject")
          @text = template("text")
          @needs += of_task
          check_attach
          prepare_leaving
        end

        def check_attach
          @attach = attach = settings["attach"].to_a.uniq.freeze
          if attach.include?("papers") && @place.papers.empty?
            wrong("attach", "must stand behind an action that makes a paper; there is none before it")
          end
          return unless attach.include?("files") && !@place.watches_task

          wrong("attach", "must be of a task; the trigger watches no tasks, so there are no files of one")
        end

        def ways(name) =
          settings[name].to_a.each_with_index.filter_map do |written, i|
            type = Receivers.all.fetch(written["to"])
            way = type.bind(written.except("to"), @kind, @schema, path: path(name, i), problems: @problems)
            way&.tap { |one| @needs += one.references.flat_map(&:needs) }
          end
      end
    end
  end
end
