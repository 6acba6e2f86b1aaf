# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # What a rule can be about beside the kinds of records: tasks, whatever they are about. Such a task leads to its
      # record twice: by "about", of which is known what every record has, and by a link of the record's own kind,
      # such as "about_deal", which is empty where the task is about another.
      module Subjects
        TASK = "task"
        # Any record, of whatever kind.
        RECORD = "record"
        ABOUT = "about"
        ABOUT_KIND = "about_kind"

        module_function

        # @param kind [String] key of a kind of record
        # @return [String] key of the link by which a task leads to a record of that kind
        def link_to(kind) = "about_#{kind.tr("/", "_")}"

        # @param schema [Schema]
        # @return [Hash{String => Kind}]
        def build(schema)
          kinds = schema.kinds.values
          links = [
            Field.of(ABOUT_KIND, "Kind of its record", "choice", choices: kinds.map { |one| [one.key, one.label] }),
            Field.of(ABOUT, "Its record", "link", links_to: RECORD),
            *kinds.map { |one| Field.of(link_to(one.key), one.label, "link", links_to: one.key) }
          ]
          task = TaskKind.build(schema)
          fields = [*task.fields.values, *links].map { |one| built_in(one) }
          {TASK => plain(TASK, "Task", task.stages, fields), RECORD => plain(RECORD, "Record", [], common)}.freeze
        end

        # @param facts [Facts] of a rule about records or tasks
        # @return [String, nil] kind of the record that it comes down to
        def kind_of(facts)
          kind = facts.event.kind
          (kind == TASK) ? facts.after[ABOUT_KIND] : kind
        end

        # @param kind [String, nil] of the record that a task is about, nil for none
        # @return [Hash{String => Object}] where the task leads
        def links(kind, id) = id ? {ABOUT => id, ABOUT_KIND => kind, link_to(kind) => id} : {}

        # @return [Array<Field>] what every record has
        def common =
          [
            %w[title Title text], %w[owner Owner person], %w[creator Creator person], %w[made Made datetime],
            ["last_contact", "Last contact", "datetime"]
          ].map { |key, label, type| Field.of(key, label, type, built_in: true) }

        def plain(key, label, stages, fields) =
          Kind.new(
            key:, label:, plural: "#{label}s", stage_label: "State", stages:, fields: [],
            built_in: fields
          )

        def built_in(field) = field.with(built_in: true)
        private_class_method :plain, :common, :built_in
      end
    end
  end
end
