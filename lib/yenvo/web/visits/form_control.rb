# frozen_string_literal: true

require "erubi"

module Yenvo
  module Web
    # What a visitor types or chooses in, by the type of what is asked. Dates and numbers are left to the browser, which
    # shows them in the visitor's own way.
    class FormControl
      # By the type of field: the type of input, what the browser may fill it with, and which keys a phone shows
      # (HTML Living Standard, autofill and inputmode).
      INPUTS = {
        "email" => ["email", "email", "email"], "phone" => ["tel", "tel", "tel"], "url" => ["url", "url", "url"],
        "date" => ["date", nil, nil], "datetime" => ["datetime-local", nil, nil], "number" => ["text", nil, "decimal"],
        "money" => ["text", nil, "decimal"], "text" => ["text", nil, nil]
      }.freeze
      NAMES = {"contact:title" => "name"}.freeze
      LONGEST = {"long_text" => Core::Reading::MAX_LONG_TEXT}.freeze

      # @param row [FormPage::Row]
      def initialize(row)
        @row = row
        @item = row.item
        @given = row.given
      end

      # @return [String]
      def html
        case @item.type
        when "choice" then select
        when "choices" then group("checkbox", options, name: "#{name}[]")
        when "yes_no" then group("radio", [%w[yes Yes], %w[no No]])
        when "long_text" then tag("textarea", {**common, rows: 6, maxlength: longest}, h(@given))
        when "files" then tag("input", {**common, type: "file", name: "files[]", multiple: true, accept:})
        else input
        end
      end

      private

      def h(text) = Erubi.h(text.to_s)
      def name = "a[#{@item.ask}]"
      def longest = LONGEST.fetch(@item.type, Core::Reading::MAX_TEXT)
      def options = @item.field.choices.map { |choice| [choice.key, choice.label] }
      def accept = Store::Attachments::TYPES.keys.map { |ending| ".#{ending}" }.join(",")

      def common = {id: @row.id, name:, required: @item.required, **described}

      def described
        by = [("#{@row.id}-help" if @row.help), ("#{@row.id}-wrong" if @row.wrong)].compact.join(" ")
        {"aria-describedby": (by unless by.empty?), "aria-invalid": (@row.wrong ? "true" : nil)}
      end

      def input
        type, autocomplete, inputmode = INPUTS.fetch(@item.type)
        autocomplete ||= NAMES[@item.ask]
        maxlength = %w[date datetime].include?(@item.type) ? nil : longest
        one = tag("input", {**common, type:, value: @given, autocomplete:, inputmode:, maxlength:})
        @item.field.unit ? "<span class=\"unit\">#{one} #{h(@item.field.unit)}</span>" : one
      end

      def select
        words = options.map { |key, label| tag("option", {value: key, selected: @given == key}, h(label)) }
        tag("select", common, [tag("option", {value: ""}, ""), *words].join)
      end

      def group(type, all, name: self.name)
        all.each_with_index.map do |(key, label), at|
          id = "#{@row.id}-#{at}"
          box = tag("input", {type:, name:, value: key, checked: Array(@given).include?(key), id:, **described})
          tag("label", {class: "check", for: id}, "#{box}<span>#{h(label)}</span>")
        end.join
      end

      # @param attributes [Hash] true for one without a value; nil and false for none
      def tag(element, attributes, inside = nil)
        written = attributes.filter_map { |key, value| value && ((value == true) ? key : "#{key}=\"#{h(value)}\"") }
        "<#{element} #{written.join(" ")}>#{"#{inside}</#{element}>" if inside}"
      end
    end
  end
end
